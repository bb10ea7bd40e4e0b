<script lang="ts">
	import '@fontsource-variable/atkinson-hyperlegible-next';
	import '@fontsource-variable/source-serif-4';
	import '../app.css';
	import { onMount } from 'svelte';
	import { afterNavigate } from '$app/navigation';
	import { keepFocus } from '$lib/ui/forms/keep-focus';
	import { waitForSignIn } from '$lib/ui/sign-in/sign-in-again';

	let { children } = $props();
	// the page answers now: app.html presses what was pressed before
	onMount(() => {
		waitForSignIn();
		const stop = keepFocus();
		dispatchEvent(new Event('lantern-alive'));
		return stop;
	});
	// a page that was gone to is read from its beginning: the next Tab is in it, not in what stands on every page
	afterNavigate(({ type }) => {
		if (type !== 'enter' && document.activeElement === document.body) document.querySelector<HTMLElement>('main')?.focus({ preventScroll: true });
	});
</script>

{@render children()}
