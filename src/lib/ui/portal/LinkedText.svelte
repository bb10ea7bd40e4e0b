<script lang="ts">
	import { embedOf } from '$lib/core/firms/embed';
	import { linkedText } from '$lib/core/requests/linked-text';
	import { sayer } from '$lib/words/words';

	/** The firm's words: addresses of pages are links, videos of players we know can be played in place. */
	let { text, locale, videos = true }: { text: string; locale: string; videos?: boolean } = $props();
	const say = $derived(sayer(locale));
	const pieces = $derived(linkedText(text));
	let playing = $state<string | null>(null);
</script>

<span class="whitespace-pre-line"
	>{#each pieces as piece, i (i)}{#if 'words' in piece}{piece.words}{:else}{@const embed = videos ? embedOf(piece.link) : null}<a
				class="break-words underline underline-offset-3"
				href={piece.link}
				target="_blank"
				rel="noopener noreferrer external">{piece.shown}</a
			>{#if embed && playing !== piece.link}<button type="button" class="act-link ml-1" onclick={() => (playing = piece.link)}
					>▷ {say('portal.video.from', { host: new URL(embed).hostname })}</button
				>{:else if embed}<iframe
					class="mt-2 block aspect-video w-full border-0"
					src={embed}
					title={say('portal.video.from', { host: new URL(embed).hostname })}
					allow="fullscreen"
					sandbox="allow-scripts allow-same-origin allow-presentation"
					referrerpolicy="strict-origin"
				></iframe>{/if}{/if}{/each}</span
>
