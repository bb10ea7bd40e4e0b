<script lang="ts">
	import type { Snippet } from 'svelte';
	import { afterNavigate } from '$app/navigation';

	/** A place: a ruled sheet, and beside it the leaf of the row that is open. On a phone the leaf covers the sheet. */
	let {
		sheet,
		children,
		leafOpen,
		closeHref,
		alwaysLeaf = false,
		wideLeaf = false,
		recordLeaf = false,
		margin = 86
	}: {
		sheet: Snippet;
		children?: Snippet;
		leafOpen: boolean;
		closeHref: string;
		alwaysLeaf?: boolean;
		wideLeaf?: boolean;
		/** the leaf is the page, the sheet an index beside it */
		recordLeaf?: boolean;
		margin?: number;
	} = $props();
	let leaf = $state<HTMLElement>();
	let list = $state<HTMLElement>();

	// opening a row leads into its leaf, closing it back to the row
	afterNavigate(({ from, type }) => {
		if (type === 'enter' || document.querySelector('dialog[open]')) return;
		if (leafOpen) {
			if (!leaf?.contains(document.activeElement)) leaf?.focus({ preventScroll: true });
		} else if (document.activeElement === document.body && from)
			list?.querySelector<HTMLElement>(`a[data-row][href^="${CSS.escape(from.url.pathname)}"]`)?.focus();
	});
</script>

<div class="frame" class:with-leaf={leafOpen || alwaysLeaf} class:wide={wideLeaf} class:record={recordLeaf} style="--margin: {margin}px">
	<main id="sheet" class="sheet" class:behind={leafOpen} tabindex="-1" bind:this={list}>{@render sheet()}</main>
	{#if leafOpen || alwaysLeaf}
		<aside class="leaf" class:resting={!leafOpen} aria-label="The open row" tabindex="-1" bind:this={leaf}>
			{#if leafOpen}<a href={closeHref} data-close-leaf data-sveltekit-noscroll class="close" aria-label="Close the leaf">×</a>{/if}
			{@render children?.()}
		</aside>
	{/if}
</div>

<style>
	.frame {
		display: grid;
		grid-template-columns: minmax(0, 1fr);
		height: calc(100dvh - 47px);
	}
	.sheet {
		background: linear-gradient(
				90deg,
				transparent var(--margin),
				var(--margin-line) var(--margin),
				var(--margin-line) calc(var(--margin) + 1px),
				transparent calc(var(--margin) + 1px)
			)
			var(--sheet);
		overflow: auto;
		outline: none;
	}
	.leaf {
		position: relative;
		background: var(--leaf);
		border-left: 1px solid var(--rule-strong);
		overflow: auto;
		outline: none;
	}
	.close {
		position: absolute;
		top: 8px;
		right: 10px;
		z-index: 5;
		width: 30px;
		height: 30px;
		display: grid;
		place-items: center;
		font-size: 1.3rem;
		text-decoration: none;
		color: var(--half);
	}
	@media (min-width: 1024px) {
		.with-leaf {
			grid-template-columns: minmax(0, 1.74fr) minmax(0, 1fr);
		}
		.with-leaf.wide {
			grid-template-columns: minmax(0, 0.72fr) minmax(0, 1fr);
		}
		.with-leaf.record {
			grid-template-columns: minmax(300px, 31.25%) minmax(0, 1fr);
		}
	}
	@media (max-width: 1023px) {
		.frame {
			height: auto;
			min-height: calc(100dvh - 47px);
		}
		.sheet.behind,
		.leaf.resting {
			display: none;
		}
	}
	.sheet :global(.masthead) {
		padding: 18px 18px 6px calc(var(--margin) + 18px);
	}
	.sheet :global(.section-head) {
		padding: 18px 18px 6px calc(var(--margin) + 18px);
		font-size: 0.95rem;
		border-bottom: 1px solid var(--rule-strong);
	}
</style>
