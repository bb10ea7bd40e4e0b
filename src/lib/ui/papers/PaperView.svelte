<script lang="ts">
	import type { PaperRow } from '$lib/server/items/read-items';
	import { shownAs } from '$lib/core/papers/file-name';
	import PaperInside from './PaperInside.svelte';
	import FilePages from './FilePages.svelte';

	/** A paper beside its item: all of its pages, in a window of their own height. */
	let { paper, src }: { paper: PaperRow; src: string } = $props();
</script>

<!-- reached by the keyboard, since it scrolls -->
<!-- svelte-ignore a11y_no_noninteractive_tabindex -->
<figure class="window overflow-auto border border-(--rule-strong) bg-(--rule)" tabindex="0" aria-label={paper.name}>
	{#if shownAs(paper.contentType) === 'inside'}<PaperInside {src} name={paper.name} />
	{:else}<FilePages {src} name={paper.name} contentType={paper.contentType} label={(n, count) => `Page ${n} of ${count}`}>
			{#snippet unshown(after)}
				<figcaption class="bg-white p-4 text-sm text-[#1d2530]">
					{#if after > 0}There are more than {after} pages. Download it to see them all.
					{:else}{paper.name} cannot be shown here: the file is locked with a password or damaged. Download it to look at it.{/if}
				</figcaption>
			{/snippet}
		</FilePages>{/if}
</figure>

<style>
	/* always of one height: what can be done with the paper stands at the same place for every paper, and does not move while it comes */
	.window {
		height: 23rem;
	}
	.window:has(> figcaption:only-child) {
		height: auto;
	}
</style>
