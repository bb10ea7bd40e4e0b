<script lang="ts">
	import type { Snippet } from 'svelte';

	/** A sheet of ledger paper over the whole place, without a leaf beside it. */
	let { children }: { children: Snippet } = $props();
</script>

<main id="sheet" class="sheet" tabindex="-1">{@render children()}</main>

<style>
	.sheet {
		min-height: calc(100dvh - 47px);
		padding: 18px 28px 40px 110px;
		background: linear-gradient(90deg, transparent 86px, var(--margin-line) 86px, var(--margin-line) 87px, transparent 87px) var(--sheet);
		outline: none;
	}
	@media (max-width: 800px) {
		.sheet {
			padding-left: 18px;
			background: var(--sheet);
		}
	}
</style>
