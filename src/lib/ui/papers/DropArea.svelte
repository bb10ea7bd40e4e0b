<script lang="ts">
	import type { Snippet } from 'svelte';

	/** Takes files that are dropped anywhere on the page. */
	let {
		take,
		children
	}: { take: (files: FileList | undefined) => void; /** told whether files are held over the page */ children: Snippet<[boolean]> } = $props();
	let over = $state(false);
</script>

<svelte:window
	ondragover={(event) => {
		event.preventDefault();
		over = true;
	}}
	ondragleave={(event) => {
		if (!event.relatedTarget) over = false;
	}}
	ondrop={(event) => {
		event.preventDefault();
		over = false;
		take(event.dataTransfer?.files);
	}}
/>

{@render children(over)}
