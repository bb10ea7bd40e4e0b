<script lang="ts">
	import type { PDFDocumentProxy } from 'pdfjs-dist';
	import { drawPage } from './draw-page';

	/** The pages of a file in small, one below the other: pressing one leads to it. */
	let { pdf, pages, goTo }: { pdf: PDFDocumentProxy; pages: number; goTo: (page: number) => void } = $props();
</script>

<nav class="strip" aria-label="Pages">
	{#each { length: pages }, index (index)}
		<button type="button" onclick={() => goTo(index + 1)} aria-label="Page {index + 1}">
			<canvas {@attach drawPage(() => pdf, index + 1)}></canvas>
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
