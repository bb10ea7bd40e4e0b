<script lang="ts">
	import type { PDFDocumentProxy } from 'pdfjs-dist';
	import type { Snippet } from 'svelte';
	import { drawPage, PAGES_MOST } from './draw-page';
	import { openPdf } from './open-pdf';

	/** A PDF or a picture page by page; a page is drawn once it comes near the sight. pdf.js runs no script of the document. */
	let {
		src,
		name,
		contentType,
		label,
		first = null,
		pick = null,
		zoom = 1,
		turn = 0,
		most = PAGES_MOST,
		opened,
		over,
		unshown
	}: {
		src: string;
		name: string;
		contentType: string;
		/** what a page is called for those who do not see it */ label: (page: number, count: number) => string;
		/** address of a picture of the first page, which is there before the file can be drawn */ first?: string | null;
		/** told where a page was touched, in shares of its width and height from the upper left */
		pick?: ((page: number, x: number, y: number) => void) | null;
		/** how many times as wide as its window a page is */ zoom?: number;
		/** how far pages are turned to the right, in degrees */ turn?: number;
		/** how many pages are shown at most */ most?: number;
		/** told of the PDF once its pages are here */ opened?: (pdf: PDFDocumentProxy) => void;
		/** what lies over a page */ over?: Snippet<[page: number]>;
		/** in the place of a file that cannot be shown, or of the pages after the last that is */ unshown: Snippet<[after: number]>;
	} = $props();
	let pages = $state<{ number: number; ratio: number }[]>([]);
	let count = $state(0);
	let failed = $state(false);
	let pictureIsHere = $state(false);
	let loaded: PDFDocumentProxy | undefined;
	// by its value: what is around it is read anew with every live update, and the file need not be
	const address = $derived(src);
	const isPicture = $derived(contentType.startsWith('image/'));

	$effect(() => {
		const url = address;
		failed = false;
		pages = [];
		count = 1;
		pictureIsHere = false;
		if (isPicture) {
			pages = [{ number: 1, ratio: 0 }];
			return;
		}
		let left = false;
		let mine: PDFDocumentProxy | undefined;
		void (async () => {
			try {
				mine = await openPdf(url);
				if (left) return void mine.loadingTask.destroy();
				const found: typeof pages = [];
				for (let n = 1; n <= Math.min(most, mine.numPages) && !left; n++) {
					const viewport = (await mine.getPage(n)).getViewport({ scale: 1 });
					found.push({ number: n, ratio: viewport.height / viewport.width });
				}
				if (left) return void mine.loadingTask.destroy();
				loaded = mine;
				count = mine.numPages;
				pages = found;
				opened?.(mine);
			} catch {
				if (!left) failed = true;
			}
		})();
		return () => {
			left = true;
			void mine?.loadingTask.destroy();
		};
	});
	const sideways = $derived(turn % 180 !== 0);
	/** width by height of a picture, once it is here */
	let shape = $state(1);
	/** @param _wide at which width it is drawn: at another one it is drawn anew */
	const draw = (number: number, _wide: number, turned: number) => drawPage(() => loaded, number, turned);
	function touch(event: MouseEvent, number: number) {
		const box = (event.currentTarget as HTMLElement).getBoundingClientRect();
		// from the keyboard there is no place: the middle of the page
		const keyboard = event.detail === 0;
		pick?.(number, keyboard ? 0.5 : (event.clientX - box.left) / box.width, keyboard ? 0.5 : (event.clientY - box.top) / box.height);
	}
</script>

{#snippet sheet(page: { number: number; ratio: number }, words: string)}
	{@const picture = page.number === 1 && first ? `background: url(${first}) 0 0 / 100% 100%; ` : ''}
	{#if isPicture}<img
			{src}
			alt={words}
			class="block w-full"
			class:coming={!pictureIsHere}
			class:turned={sideways}
			style={turn === 0 ? undefined : `--shape: ${shape}; rotate: ${turn}deg`}
			onload={(event) => {
				pictureIsHere = true;
				if (event.currentTarget instanceof HTMLImageElement) shape = event.currentTarget.naturalWidth / event.currentTarget.naturalHeight;
			}}
			onerror={() => (failed = true)}
		/>
	{:else}<span class="block" role={words ? 'img' : undefined} aria-label={words || undefined}
			><canvas class="block w-full" style="{picture}aspect-ratio: {sideways ? page.ratio : 1 / page.ratio}" {@attach draw(page.number, zoom, turn)}
			></canvas></span
		>{/if}
{/snippet}
{#if failed}{@render unshown(0)}
{:else}
	{#each pages as page (page.number)}
		{@const words = isPicture ? name : label(page.number, count)}
		<div
			class="page"
			data-page={page.number}
			style={zoom === 1 && !(isPicture && sideways)
				? undefined
				: `width: ${zoom * 100}%${isPicture && sideways ? `; aspect-ratio: ${1 / shape}` : ''}`}
		>
			{#if pick}<button type="button" class="block w-full cursor-crosshair" aria-label={words} onclick={(event) => touch(event, page.number)}
					>{@render sheet(page, '')}</button
				>{:else}{@render sheet(page, words)}{/if}
			{@render over?.(page.number)}
		</div>
	{:else}<div class="page coming" aria-hidden="true">
			{#if first && !isPicture}<img
					src={first}
					alt=""
					fetchpriority="high"
					class="absolute inset-0 w-full"
					onerror={(event) => event.currentTarget instanceof Element && event.currentTarget.remove()}
				/>{/if}
		</div>{/each}
	{#if count > pages.length && pages.length > 0}{@render unshown(pages.length)}{/if}
{/if}

<style>
	.page {
		position: relative;
		background: #fff;
	}
	/* a picture that lies on its side is as high as its place is wide */
	.turned {
		position: absolute;
		top: 50%;
		left: 50%;
		width: calc(100% * var(--shape));
		max-width: none;
		translate: -50% -50%;
	}
	/* the place of a page until it is here: what stands below must not move when it comes */
	.coming {
		aspect-ratio: 17 / 22;
	}
	.page + .page {
		margin-top: 10px;
	}
</style>
