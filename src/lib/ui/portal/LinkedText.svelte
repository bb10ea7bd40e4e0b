<script lang="ts">
	import { linkedText } from '$lib/core/requests/linked-text';
	import PageLink from './PageLink.svelte';

	/** The firm's words: addresses of pages are links, videos of players we know can be played in place. */
	let { text, locale, videos = true }: { text: string; locale: string; videos?: boolean } = $props();
	const pieces = $derived(linkedText(text));
</script>

<span class="whitespace-pre-line"
	>{#each pieces as piece, i (i)}{#if 'words' in piece}{piece.words}{:else}<PageLink
				href={piece.link}
				shown={piece.shown}
				{locale}
				{videos}
			/>{/if}{/each}</span
>
