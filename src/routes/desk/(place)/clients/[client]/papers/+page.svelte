<script lang="ts">
	import { ITEM_STATE_SHORT } from '$lib/core/requests/item-states';
	import { sizeWords } from '$lib/words/dates';

	let { data } = $props();
	const at = $derived(`/desk/clients/${data.client.id}`);
	const PLACE_WORDS = { kept: 'kept among their papers', away: 'needs no place', waits: 'has no place yet', held: 'waits to be let in' } as const;
	const go = (before: string) => `?${new URLSearchParams({ ...(data.typed ? { find: data.typed } : {}), before })}`;
</script>

<svelte:head><title>Papers of {data.client.name} · {data.firm.name}</title></svelte:head>
<div class="p-5 pr-12">
	<p class="text-sm"><a class="act-link" href={at}>Back to {data.client.name}</a></p>
	<h2 class="mt-1 text-[1.45rem]">Papers</h2>
	<form class="mt-2 flex items-end gap-3" data-sveltekit-keepfocus role="search">
		<label class="field flex-1"
			><span>Find by name, sender, what it answers, or words inside</span><input
				name="find"
				value={data.typed}
				maxlength="200"
				type="search"
			/></label
		>
		<button class="act-quiet">Find</button>
	</form>
	{#if data.papers.length === 0}
		<p class="mt-4 text-(--half)">
			{#if data.typed}Nothing here has all of these words. Scans have no words inside that can be read. <a class="act-link" href="{at}/papers"
					>Show all papers</a
				>{:else if data.later}These were all.{:else}No papers yet.{/if}
		</p>
	{/if}
	<ul class="mt-3 text-[0.88rem]">
		{#each data.papers as paper (paper.id)}
			<li class="paper border-b border-(--rule)">
				<span class="text-[0.78rem] text-(--half)">{paper.came}</span>
				<span class="min-w-0">
					<a class="act-link font-semibold wrap-anywhere" href="/desk/papers/{paper.id}" target="_blank" rel="noopener">{paper.name}</a>
					<span class="text-(--half)">{sizeWords('en', paper.bytes)}{paper.sender ? `, from ${paper.sender}` : ''}</span>
					{#if paper.note}<span class="block text-(--half)">“{paper.note}”</span>{/if}
					{#if paper.inside}<span class="block text-(--half)">inside: {paper.inside}</span>{/if}
				</span>
				<span class="min-w-0">
					{#if paper.place === 'item'}<a class="underline decoration-dotted" href="{at}/item/{paper.itemId}">{paper.title}</a>
						<span class="text-(--half)">{ITEM_STATE_SHORT[paper.state!]}</span>
					{:else if paper.place === 'waits' || paper.place === 'held'}<a class="act-link" href="/desk/rounds/arrival-{paper.id}"
							>{PLACE_WORDS[paper.place]}</a
						>
					{:else}<span class="text-(--half)">{PLACE_WORDS[paper.place]}</span>{/if}
				</span>
			</li>
		{/each}
	</ul>
	{#if data.more}<p class="py-3"><a class="act-quiet" href={go(data.papers.at(-1)!.id)}>What came before</a></p>{/if}
</div>

<style>
	.paper {
		display: grid;
		grid-template-columns: 5.5rem minmax(0, 1.5fr) minmax(0, 1fr);
		gap: 14px;
		padding: 6px 0;
	}
	@media (max-width: 640px) {
		.paper {
			grid-template-columns: minmax(0, 1fr);
			gap: 2px;
		}
	}
</style>
