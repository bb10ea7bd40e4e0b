<script lang="ts">
	import type { PDFDocumentProxy, RenderTask } from 'pdfjs-dist';

	/** The pages of a file in small, one below the other: pressing one leads to it. */
	let { pdf, pages, goTo }: { pdf: PDFDocumentProxy; pages: number; goTo: (page: number) => void } = $props();
	const WIDTH = 84;

	/** Drawn once it comes near the sight. */
	const draw = (number: number) => (canvas: HTMLCanvasElement) => {
		let task: RenderTask | undefined;
		const observer = new IntersectionObserver(
			(entries) => {
				if (!entries.some((entry) => entry.isIntersecting)) return;
				observer.disconnect();
				void (async () => {
					try {
						const page = await pdf.getPage(number);
						const viewport = page.getViewport({ scale: (WIDTH / page.getViewport({ scale: 1 }).width) * Math.min(2, devicePixelRatio || 1) });
						canvas.width = viewport.width;
						canvas.height = viewport.height;
						task = page.render({ canvas, viewport });
						await task.promise;
					} catch {
						// another file is shown by now, or this page is damaged: its number stays
					}
				})();
			},
			{ rootMargin: '300px' }
		);
		observer.observe(canvas);
		return () => {
			observer.disconnect();
			task?.cancel();
		};
	};
</script>

<nav class="strip" aria-label="Pages">
	{#each { length: pages }, index (index)}
		<button type="button" onclick={() => goTo(index + 1)} aria-label="Page {index + 1}">
			<canvas {@attach draw(index + 1)}></canvas>
			<span aria-hidden="true">{index + 1}</span>
		</button>
	{/each}
</nav>

<style>
	.strip {
		display: flex;
		flex-direction: column;
		align-items: center;
		gap: 8px;
		padding: 12px 10px;
		overflow-y: auto;
		background: var(--leaf);
		border-right: 1px solid var(--rule-strong);
	}
	button {
		flex: none;
		width: 84px;
		padding: 0;
		text-align: center;
		font-size: 0.75rem;
		color: var(--half);
	}
	canvas {
		display: block;
		width: 84px;
		min-height: 60px;
		background: #fff;
		border: 1px solid var(--rule-strong);
	}
	button:hover canvas {
		border-color: var(--act);
	}
</style>
