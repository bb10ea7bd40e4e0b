<script lang="ts">
	import '../app.css';
	import { onMount } from 'svelte';

	let { children } = $props();
	// the page answers now: app.html presses what was pressed before
	onMount(() => void dispatchEvent(new Event('lantern-alive')));
</script>

{@render children()}
