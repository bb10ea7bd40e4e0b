<script lang="ts">
	import { eventSentence } from '$lib/core/audit/event-words';
	import { timeWords } from '$lib/words/dates';

	let { data } = $props();
</script>

<svelte:head><title>History of {data.client.name} · {data.firm.name}</title></svelte:head>
<div class="p-5 pr-12">
	<p class="text-sm"><a class="act-link" href="/desk/clients/{data.client.id}">Back to {data.client.name}</a></p>
	<h2 class="mt-1 text-[1.45rem]">Everything that happened</h2>
	<p class="text-sm text-(--half)">Newest first. Nothing here can be changed or removed.</p>
	<ol class="mt-3 text-[0.85rem]">
		{#each data.history as event (event.id)}
			<li class="grid grid-cols-[9rem_1fr] gap-2 border-b border-(--rule) py-1 break-words">
				<span class="text-(--half)">{timeWords('en', event.at, data.firm.timeZone)}</span><span class="min-w-0"
					><b class="font-semibold">{event.actorName}</b> {eventSentence(event.verb, event.details)}</span
				>
			</li>
		{/each}
	</ol>
	{#if data.more}<p class="py-3"><a class="act-quiet" href="?before={data.history.at(-1)!.id}">What was before</a></p>{/if}
</div>
