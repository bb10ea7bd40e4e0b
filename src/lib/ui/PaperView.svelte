<script lang="ts">
	import type { PaperLine } from '$lib/server/requests/read-requests';

	let { paper, src }: { paper: PaperLine; src: string } = $props();
	let failed = $state(false);
	const PAGES_SHOWN = 5;

	/** Draws the first pages of a PDF. pdf.js runs no script of the document. */
	function drawPdf(address: string) {
		return (container: HTMLElement) => {
			let stopped = false;
			void (async () => {
				try {
					const pdfjs = await import('pdfjs-dist');
					const worker = await import('pdfjs-dist/build/pdf.worker.min.mjs?url');
					pdfjs.GlobalWorkerOptions.workerSrc = worker.default;
					const loaded = await pdfjs.getDocument({ url: address, isEvalSupported: false, useSystemFonts: false }).promise;
					for (let n = 1; n <= Math.min(PAGES_SHOWN, loaded.numPages) && !stopped; n++) {
						const page = await loaded.getPage(n);
						const width = container.clientWidth;
						const viewport = page.getViewport({ scale: (width / page.getViewport({ scale: 1 }).width) * Math.min(2, devicePixelRatio || 1) });
						const canvas = document.createElement('canvas');
						canvas.width = viewport.width;
						canvas.height = viewport.height;
						canvas.style.width = '100%';
						canvas.setAttribute('role', 'img');
						canvas.setAttribute('aria-label', `Page ${n} of ${loaded.numPages}`);
						if (stopped) return;
						container.append(canvas);
						await page.render({ canvas, viewport }).promise;
					}
				} catch {
					failed = true;
				}
			})();
			return () => {
				stopped = true;
				container.replaceChildren();
			};
		};
	}
</script>

<figure class="border border-(--rule-strong) bg-white">
	{#if failed}
		<figcaption class="p-4 text-sm text-[#1d2530]">
			{paper.name} cannot be shown here: the file is locked with a password or damaged. Download it to look at it.
		</figcaption>
	{:else if paper.contentType === 'application/pdf'}
		{#key paper.id}<div class="max-h-[23rem] overflow-auto" {@attach drawPdf(src)}></div>{/key}
	{:else}
		<img {src} alt={paper.name} class="mx-auto max-h-[23rem]" onerror={() => (failed = true)} />
	{/if}
</figure>
