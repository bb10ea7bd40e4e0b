<script lang="ts">
	import { shownAs } from '$lib/core/papers/file-name';
	import type { PDFDocumentProxy } from 'pdfjs-dist';
	import { findInPages, turnedBox, type FoundOnPage, type LyingText } from '$lib/core/papers/find-in-pages';
	import { PAGES_MOST } from './draw-page';
	import FilePages from './FilePages.svelte';
	import PageStrip from './PageStrip.svelte';
	import { textOfPages } from './text-of-pages';
	import PaperInside from './PaperInside.svelte';

	/** All of a paper in a window that scrolls: its pages, or what stands in it. */
	let {
		paper,
		src,
		zoom = 1,
		turn = 0,
		fills = false,
		strip = false,
		looking = '',
		current = 0,
		found = $bindable([])
	}: {
		paper: { name: string; contentType: string };
		src: string;
		/** how many times as wide as the window a page is */ zoom?: number;
		/** how far pages are turned to the right, in degrees */ turn?: number;
		/** as high as the place it is given */ fills?: boolean;
		/** its pages stand beside it in small */ strip?: boolean;
		/** words that are marked where they stand on its pages */ looking?: string;
		/** which of the places is in sight */ current?: number;
		/** where they stand; nothing of a file without text */ found?: FoundOnPage[];
	} = $props();
	let pdf = $state.raw<PDFDocumentProxy>();
	let reading: { of: PDFDocumentProxy; texts: Promise<LyingText[][]> } | undefined;
	let figure = $state<HTMLElement>();

	$effect(() => {
		const [words, opened] = [looking, pdf];
		if (words.trim() === '' || !opened) {
			found = [];
			return;
		}
		let left = false;
		if (reading?.of !== opened) reading = { of: opened, texts: textOfPages(opened, PAGES_MOST) };
		void reading.texts.then((texts) => !left && (found = findInPages(texts, words))).catch(() => undefined);
		return () => void (left = true);
	});
	function goTo(page: number) {
		const place = figure?.querySelector(`[data-page="${page}"]`);
		if (figure && place) figure.scrollTop += place.getBoundingClientRect().top - figure.getBoundingClientRect().top;
	}
	$effect(() => {
		const place = found[current];
		if (!place) return;
		// the mark itself, once it is drawn
		requestAnimationFrame(() => {
			const mark = figure?.querySelector('[data-current]')?.getBoundingClientRect();
			if (!figure || !mark) return;
			// only its own window moves, and only if the mark is not in sight
			const sight = figure.getBoundingClientRect();
			if (mark.top < sight.top || mark.bottom > sight.bottom) figure.scrollTop += mark.top - sight.top - sight.height / 3;
			if (mark.left < sight.left || mark.right > sight.right) figure.scrollLeft += mark.left - sight.left - sight.width / 3;
		});
	});
</script>

{#if strip && pdf}<PageStrip {pdf} pages={Math.min(PAGES_MOST, pdf.numPages)} {goTo} />{/if}
<!-- reached by the keyboard, since it scrolls -->
<!-- svelte-ignore a11y_no_noninteractive_tabindex -->
<figure class="window overflow-auto bg-(--rule)" class:fills tabindex="0" aria-label={paper.name} bind:this={figure}>
	{#if shownAs(paper.contentType) === 'inside'}<PaperInside {src} name={paper.name} />
	{:else}<FilePages
			{src}
			name={paper.name}
			contentType={paper.contentType}
			{zoom}
			{turn}
			label={(n, count) => `Page ${n} of ${count}`}
			opened={(it) => (pdf = it)}
		>
			{#snippet over(page)}
				{#each found as place, index (index)}{#if place.page === page}{#each place.boxes as box, part (part)}{@const at = turnedBox(box, turn)}<span
								class="mark"
								data-current={index === current ? '' : undefined}
								style="left: {at.left * 100}%; top: {at.top * 100}%; width: {at.width * 100}%; height: {at.height * 100}%"
							></span>{/each}{/if}{/each}
			{/snippet}
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
	/* what is found: a bar of lamp light over it, and a frame around the one in sight */
	.mark {
		position: absolute;
		background: color-mix(in srgb, #f2a93b 38%, transparent);
		mix-blend-mode: multiply;
		outline: 1px solid #b36b00;
	}
	.mark[data-current] {
		outline: 3px solid #14475a;
		outline-offset: 2px;
	}
	.fills + :global(.fills) {
		border-left: 1px solid var(--rule-strong);
	}
</style>
