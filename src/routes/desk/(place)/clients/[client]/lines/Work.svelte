<script lang="ts">
	import { dateWords } from '$lib/words/dates';
	import ClientEngagements from '$lib/ui/record/ClientEngagements.svelte';
	import RecordLine from '$lib/ui/record/RecordLine.svelte';
	import type { ClientRecord } from '../record.svelte';

	/** What we do for the client. */
	let { record }: { record: ClientRecord } = $props();
	const { data, client } = $derived(record);
	const work = $derived(data.engagements.filter((engagement) => !engagement.endedOn));
</script>

<RecordLine
	name="work"
	heading="what we do"
	act={record.mine('add_client') ? 'change' : 'show'}
	open={record.opened.has('work')}
	toggle={record.toggle}
>
	{#if work.length === 0}<p class="text-(--half)">No engagement yet.</p>{/if}
	{#each work as engagement (engagement.id)}<p>
			{engagement.name}
			<span class="text-(--half)"
				>since {dateWords('en', engagement.beganOn, 'short')}{engagement.services.length > 0
					? `: ${engagement.services.map((service) => service.name).join(', ')}`
					: ''}</span
			>
		</p>{/each}
	{#snippet more()}
		{#key client.id}<ClientEngagements
				clientId={client.id}
				engagements={data.engagements}
				services={data.services}
				currency={data.currency}
				today={data.today}
				mine={record.mine}
			/>{/key}
	{/snippet}
</RecordLine>
