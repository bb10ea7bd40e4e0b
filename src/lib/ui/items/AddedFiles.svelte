<script lang="ts">
	import type { ItemRow } from '$lib/server/items/read-items';
	import { sizeWords } from '$lib/words/dates';
	import { sayer } from '$lib/words/words';

	/** The files that a client has added, to download. */
	let { papers, home, locale }: { papers: ItemRow['papers']; home: string; locale: string } = $props();
	const say = $derived(sayer(locale));
</script>

<ul class="mt-4" aria-label={say('item.paper.list')}>
	{#each papers as paper (paper.id)}<li class="flex items-center gap-3 border-b border-(--rule-strong) py-2">
			<a class="act-link min-w-0 flex-1 !block truncate !leading-[44px]" href="{home}/papers/{paper.id}?download" download>{paper.name}</a><span
				class="text-sm text-(--half)">{sizeWords(locale, paper.bytes)}</span
			>
		</li>{/each}
</ul>
