<script lang="ts">
	import { shownAs } from '$lib/core/papers/file-name';
	import FilePages from './FilePages.svelte';
	import PaperInside from './PaperInside.svelte';

	/** All of a paper in a window that scrolls: its pages, or what stands in it. */
	let {
		paper,
		src,
		zoom = 1,
		turn = 0,
		fills = false
	}: {
		paper: { name: string; contentType: string };
		src: string;
		/** how many times as wide as the window a page is */ zoom?: number;
		/** how far pages are turned to the right, in degrees */ turn?: number;
		/** as high as the place it is given */ fills?: boolean;
	} = $props();
</script>

<!-- reached by the keyboard, since it scrolls -->
<!-- svelte-ignore a11y_no_noninteractive_tabindex -->
<figure class="window overflow-auto bg-(--rule)" class:fills tabindex="0" aria-label={paper.name}>
	{#if shownAs(paper.contentType) === 'inside'}<PaperInside {src} name={paper.name} />
	{:else}<FilePages {src} name={paper.name} contentType={paper.contentType} {zoom} {turn} label={(n, count) => `Page ${n} of ${count}`}>
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
	.window:not(.fills) {
		height: 23rem;
		border: 1px solid var(--rule-strong);
	}
	.window:not(.fills):has(> :global(figcaption:only-child)) {
		height: auto;
	}
	.fills {
		padding: 14px;
	}
	.fills + :global(.fills) {
		border-left: 1px solid var(--rule-strong);
	}
</style>
