<script lang="ts">
	import type { PDFDocumentProxy } from 'pdfjs-dist';
	import { applies, inReadingOrder, PLACES, TICKED, type Place, type Values } from '$lib/core/signing/places';
	import FilePages from '../papers/FilePages.svelte';
	import { textOfPages } from '../papers/text-of-pages';

	/** The pages of a letter as they are signed: what was filled in stands in its places, and whose the others are is said. */
	let {
		src,
		name,
		most,
		places,
		own,
		content,
		whose,
		kindWords,
		pageWords,
		textWords,
		values,
		zoom = 1,
		failed,
		opened,
		press
	}: {
		src: string;
		name: string;
		/** how many pages there are: all of them are shown */ most: number;
		places: readonly Place[];
		/** key of whoever looks, if they sign */ own: string | null;
		/** what stands in a place by now; empty while nothing does */ content: (place: Place) => string;
		/** name of the one it belongs to */ whose: (place: Place) => string;
		kindWords: (place: Place) => string;
		pageWords: (page: number, count: number) => string;
		textWords: (page: number) => string;
		/** what is ticked and written, for places that depend on it */ values: (signer: string) => Values;
		/** how many times as wide as its window a page is */ zoom?: number;
		/** said where they cannot be shown */ failed: string;
		/** told once they are there */ opened?: () => void;
		/** an own place was pressed */ press?: (place: Place) => void;
	} = $props();
	let sizes = $state<{ width: number; height: number }[]>([]);
	/** what is written on each page, for those who hear it */
	let texts = $state<string[]>([]);

	async function measure(pdf: PDFDocumentProxy) {
		const found: typeof sizes = [];
		for (let n = 1; n <= Math.min(most, pdf.numPages); n++) {
			const { width, height } = (await pdf.getPage(n)).getViewport({ scale: 1 });
			found.push({ width, height });
		}
		sizes = found;
		opened?.();
		texts = (await textOfPages(pdf, most)).map((page) =>
			page
				.map(({ text }) => text)
				.join(' ')
				.replace(/\s+/g, ' ')
				.trim()
		);
	}
	const parties = $derived([...new Set(inReadingOrder(places).map(({ of }) => of))]);
	const share = (part: number, whole: number) => `${(part / whole) * 100}%`;
</script>

<FilePages {src} {name} {most} {zoom} contentType="application/pdf" label={pageWords} opened={(pdf) => void measure(pdf)}>
	{#snippet over(page)}
		{@const size = sizes[page - 1]}
		{#if size}
			{#each inReadingOrder(places.filter((one) => one.page === page && applies(one, values(one.of)))) as place (place.id)}
				{@const held = content(place)}
				{@const mine = place.of === own}
				<svelte:element
					this={mine && press ? 'button' : 'span'}
					type={mine && press ? 'button' : undefined}
					role={mine && press ? undefined : 'img'}
					class="place p{parties.indexOf(place.of) % 4}"
					class:mine
					class:filled={held !== ''}
					class:mark={place.kind === 'signature' || place.kind === 'initials'}
					data-place={place.id}
					aria-label="{whose(place)}: {kindWords(place)}{held && held !== TICKED ? `, ${held}` : ''}"
					style="left: {share(place.x, size.width)}; top: {share(place.y, size.height)}; width: {share(place.width, size.width)}; height: {share(
						place.height,
						size.height
					)}"
					onclick={() => mine && press?.(place)}
				>
					<span class="held" aria-hidden="true" style="--letters: {Math.max(5, (held || kindWords(place)).length)}"
						>{held === TICKED && place.kind === 'tick' ? '✓' : held || (PLACES[place.kind].width > 60 ? kindWords(place) : '')}</span
					>
				</svelte:element>
			{/each}
		{/if}
		{#if texts[page - 1]}<p class="sr-only">{textWords(page)}: {texts[page - 1]}</p>{/if}
	{/snippet}
	{#snippet unshown(after)}{#if after === 0}<p class="notice-wrong" role="alert">{failed}</p>{/if}{/snippet}
</FilePages>

<style>
	.place {
		position: absolute;
		display: flex;
		align-items: center;
		overflow: hidden;
		border: 1px solid #5a6472;
		background: repeating-linear-gradient(45deg, #d8cdb566 0 1px, #fffdf7cc 1px 7px);
		container-type: size;
		color: #1d2530;
		text-align: left;
	}
	/* parties are told apart by hatching and by what is said, never by colour alone */
	.p1 {
		background: radial-gradient(#5a647288 1px, #fffdf7cc 1px) 0 0 / 7px 7px;
		border-style: dotted;
	}
	.p2 {
		background: repeating-linear-gradient(0deg, #d8cdb599 0 1px, #fffdf7cc 1px 6px);
		border-style: dashed;
	}
	.p3 {
		background: repeating-linear-gradient(90deg, #d8cdb599 0 1px, #fffdf7cc 1px 6px);
		border-style: double;
		border-width: 3px;
	}
	.mine {
		border: 2px solid #b45309;
		background: #fff3dfdd;
		cursor: pointer;
	}
	.filled {
		border-width: 1px;
		background: #fffdf7;
	}
	.held {
		padding-inline: 3px;
		/* as large as it fits */
		font-size: clamp(4px, min(62cqh, calc(165cqw / var(--letters))), 13px);
		line-height: 1.1;
		white-space: nowrap;
	}
	.mark.filled .held {
		font-family: 'Source Serif 4 Variable', serif;
		font-size: clamp(5px, min(70cqh, calc(180cqw / var(--letters))), 22px);
		font-style: italic;
	}
</style>
