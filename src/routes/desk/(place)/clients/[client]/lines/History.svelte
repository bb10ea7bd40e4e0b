<script lang="ts">
	import { eventSentence } from '$lib/core/audit/event-words';
	import RecordLine from '$lib/ui/record/RecordLine.svelte';
	import type { ClientRecord } from '../record.svelte';

	/** What happened last. */
	let { record }: { record: ClientRecord } = $props();
	const { data, client } = $derived(record);
</script>

<RecordLine name="history" heading="history" act="show" open={record.opened.has('history')} toggle={record.toggle}>
	{@const last = data.history[0]}
	{#if last}<p>
			{last.actorName}
			{eventSentence(last.verb, last.details)} <span class="text-(--half)">{record.time(last.at)}</span>
		</p>{/if}
	{#snippet more()}
		<ol>
			{#each data.history as event (event.id)}
				<li class="grid grid-cols-[8.2rem_1fr] gap-2 border-b border-(--rule) py-1 break-words">
					<span class="text-(--half)">{record.time(event.at)}</span><span class="min-w-0"
						><b class="font-semibold">{event.actorName}</b> {eventSentence(event.verb, event.details)}</span
					>
				</li>
			{/each}
		</ol>
		<p class="py-2"><a class="act-link" href="/desk/clients/{client.id}/history">The whole history</a></p>
	{/snippet}
</RecordLine>
