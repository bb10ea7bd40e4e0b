<script lang="ts">
	import '@fontsource-variable/atkinson-hyperlegible-next';
	import '@fontsource-variable/source-serif-4';
	import '../app.css';
	import { onMount } from 'svelte';
	import { afterNavigate, beforeNavigate } from '$app/navigation';
	import { keepFocus } from '$lib/ui/forms/keep-focus';
	import { waitForSignIn } from '$lib/ui/sign-in/sign-in-again';
	import { say } from '$lib/words/words';

	let { children } = $props();
	// the page answers now: app.html presses what was pressed before
	onMount(() => {
		waitForSignIn();
		const stop = keepFocus();
		dispatchEvent(new Event('lantern-alive'));
		return stop;
	});
	/** somebody wanted to go on while the line is down: the page stays, with what is written on it */
	let held = $state(false);
	beforeNavigate((navigation) => {
		held = !navigator.onLine && !navigation.willUnload;
		if (held) navigation.cancel();
	});
	// a page that was gone to is read from its beginning: the next Tab is in it, not in what stands on every page
	afterNavigate(({ type }) => {
		if (type !== 'enter' && document.activeElement === document.body) document.querySelector<HTMLElement>('main')?.focus({ preventScroll: true });
	});
</script>

<svelte:window ononline={() => (held = false)} />

{@render children()}

<div aria-live="polite">
	{#if held}<p class="notice-wrong fixed inset-x-3 bottom-3 z-50 mx-auto w-fit max-w-xl">
			{say(document.documentElement.lang, 'error.offline')}
		</p>{/if}
</div>
