<script lang="ts">
	import type { Snippet } from 'svelte';

	/** A button of the toolbar above formatted words. */
	let {
		pressed,
		expanded,
		look = '',
		run,
		children
	}: {
		/** the words at the cursor have it */ pressed: boolean;
		/** for one that opens something */ expanded?: boolean;
		/** classes that show what it does */ look?: string;
		run: () => void;
		children: Snippet;
	} = $props();
</script>

<!-- pressed with the mouse it leaves the focus among the words, so that no letter is lost that comes at once -->
<button
	type="button"
	class="act-quiet !min-h-7 {look}"
	aria-pressed={pressed}
	aria-expanded={expanded}
	onmousedown={(event) => event.preventDefault()}
	onclick={run}>{@render children()}</button
>

<style>
	[aria-pressed='true'] {
		background: var(--lamp-light);
		border-color: var(--lamp-edge);
	}
</style>
