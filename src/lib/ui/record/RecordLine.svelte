<script lang="ts">
	import type { Snippet } from 'svelte';

	/** A line of a record: its heading in the margin, what there is in short, and the whole of it opened in place. */
	let {
		name,
		heading,
		act,
		open,
		lit = false,
		toggle,
		children,
		more
	}: {
		/** of the line, in addresses */ name: string;
		heading: string;
		/** what opening it is called: show, change */ act: string;
		open: boolean;
		/** needs a person of the firm */ lit?: boolean;
		toggle: (name: string) => void;
		/** in short */ children: Snippet;
		more?: Snippet;
	} = $props();
</script>

<section id={name} class="line" class:lit class:open aria-labelledby="{name}-heading">
	<h3 id="{name}-heading">{heading}</h3>
	<div class="body">
		{#if open && more}{@render more()}{:else}{@render children()}{/if}
	</div>
	{#if more}<button class="act-link turn" aria-expanded={open} aria-label="{open ? 'close' : act}: {heading}" onclick={() => toggle(name)}
			>{open ? 'close' : act}</button
		>{/if}
</section>

<style>
	.line {
		display: grid;
		grid-template-columns: var(--record-margin) minmax(0, 1fr) auto;
		align-items: baseline;
		column-gap: 18px;
		border-bottom: 1px solid var(--rule-strong);
		padding: 6px 20px 6px 0;
		font-size: 0.84rem;
		line-height: 1.45;
		scroll-margin-top: 0.5rem;
	}
	.line.lit {
		background: linear-gradient(90deg, transparent calc(var(--record-margin) + 1px), var(--lamp-soft) calc(var(--record-margin) + 1px));
	}
	h3 {
		font-family: inherit;
		font-size: 0.76rem;
		font-weight: 400;
		color: var(--half);
		text-align: right;
		padding-right: 14px;
	}
	.line.open h3 {
		color: var(--ink);
		font-weight: 700;
	}
	.turn {
		font-size: 0.8rem;
	}
	@media (max-width: 640px) {
		.line.lit {
			background: var(--lamp-soft);
		}
		.line {
			grid-template-columns: minmax(0, 1fr) auto;
			padding-left: 16px;
		}
		h3 {
			text-align: left;
		}
		.body {
			grid-column: 1;
			grid-row: 2;
		}
		.turn {
			grid-column: 2;
			grid-row: 1;
		}
	}
</style>
