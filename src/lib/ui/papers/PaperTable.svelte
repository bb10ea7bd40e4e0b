<script lang="ts">
	import { ITEM_STATE_SHORT } from '$lib/core/requests/item-states';
	import type { ClientPaper } from '$lib/server/papers/client-papers';
	import type { Choosing } from '$lib/ui/desk/choosing.svelte';
	import { sizeWords } from '$lib/words/dates';

	/** Papers as a list: what each is, where it lies, and whether the client sees it. */
	let {
		papers,
		chosen = null,
		clients = false
	}: {
		papers: readonly (ClientPaper & { came: string })[];
		/** what is ticked; left out where nothing is done with them */ chosen?: Choosing | null;
		/** with the client of each */ clients?: boolean;
	} = $props();
	const PLACE_WORDS = { waits: 'has no place yet', held: 'waits to be let in' } as const;
	const all = $derived(papers.length > 0 && papers.every(({ id }) => chosen?.has(id)));
	const toggleAll = () => (all ? chosen?.clear() : chosen?.set(papers.map(({ id }) => id)));
</script>

<table class="list">
	<thead
		><tr
			><th class="margin"
				>{#if chosen}<input type="checkbox" checked={all} onchange={toggleAll} aria-label="Choose all {papers.length}" />{:else}came{/if}</th
			><th>paper</th>{#if clients}<th>client</th>{/if}<th>where</th>{#if chosen}<th class="wide">came</th>{/if}<th>who sees it</th></tr
		></thead
	>
	<tbody>
		{#each papers as paper (paper.id)}
			{@const at = `/desk/clients/${paper.clientId}`}
			<tr class:lit={chosen?.has(paper.id)}>
				<td class="margin"
					>{#if chosen}<input
							type="checkbox"
							checked={chosen.has(paper.id)}
							onclick={(event) => chosen.toggle(event, paper.id, papers)}
							aria-label="Choose {paper.name}"
						/>{:else}<span class="text-[0.78rem] text-(--half)">{paper.came}</span>{/if}</td
				>
				<td class="paper">
					<a class="act-link font-semibold wrap-anywhere" href="{at}/papers/{paper.id}" data-row>{paper.name}</a>
					<span class="text-(--half)"
						>{sizeWords('en', paper.bytes)}{paper.sender ? `, ${paper.ours ? 'added by' : 'from'} ${paper.sender}` : ''}{paper.earlier > 0
							? `, ${paper.earlier === 1 ? 'one earlier version' : `${paper.earlier} earlier versions`}`
							: ''}</span
					>
					{#if paper.keptApart}<b class="block text-(--lamp-deep)">kept apart: {paper.keptApart} was found in it</b>{/if}
					{#if paper.note}<span class="block text-(--half)">“{paper.note}”</span>{/if}
					{#if paper.inside}<span class="block text-(--half)">inside: {paper.inside}</span>{/if}
				</td>
				{#if clients}<td><a class="underline decoration-dotted underline-offset-2" href="{at}/papers">{paper.clientName}</a></td>{/if}
				<td>
					{#if paper.folder}<span>{paper.folder}</span>{/if}
					{#if paper.place === 'item'}<span class="block"
							><a class="underline decoration-dotted underline-offset-2" href="{at}/item/{paper.itemId}">{paper.title}</a>
							<span class="text-(--half)">{ITEM_STATE_SHORT[paper.state!]}</span></span
						>
					{:else if paper.place === 'waits' || paper.place === 'held'}<a class="act-link block" href="/desk/rounds/arrival-{paper.id}"
							>{PLACE_WORDS[paper.place]}</a
						>
					{:else if paper.place === 'away'}<span class="block text-(--half)">put away</span>
					{:else if !paper.folder}<span class="text-(--half)">in no folder</span>{/if}
				</td>
				{#if chosen}<td class="wide whitespace-nowrap text-(--half)">{paper.came}</td>{/if}
				<td class="whitespace-nowrap"
					>{#if paper.shown && !paper.closed}<b class="seen">the client sees it</b>{:else if paper.shown}<span class="text-(--lamp-deep)"
							>shown, folder closed</span
						>{:else if !paper.ours && paper.place !== 'kept' && paper.place !== 'away'}<span class="text-(--half)">they sent it</span>{:else}<span
							class="text-(--half)">ours only</span
						>{/if}</td
				>
			</tr>
		{/each}
	</tbody>
</table>

<style>
	.paper {
		max-width: 30rem;
	}
	.seen {
		font-weight: 600;
		color: var(--act);
	}
	@media (max-width: 800px) {
		.wide {
			display: none;
		}
	}
	@media (max-width: 560px) {
		tr {
			display: grid;
			grid-template-columns: 44px minmax(0, 1fr);
		}
		tr > :not(.margin) {
			grid-column: 2;
			height: auto;
		}
		tbody td {
			border-bottom: 0;
		}
		tbody tr {
			padding: 4px 0;
			border-bottom: 1px solid var(--rule);
		}
		thead th:not(.margin) {
			display: none;
		}
	}
</style>
