<script lang="ts">
	import { embedOf } from '$lib/core/firms/embed';
	import { sayer } from '$lib/words/words';

	/** A link of the firm's words; a video of a player we know can be played in place. */
	let { href, shown, locale, videos }: { href: string; shown: string; locale: string; videos: boolean } = $props();
	const say = $derived(sayer(locale));
	const embed = $derived(videos ? embedOf(href) : null);
	let playing = $state(false);
</script>

<a class="break-words underline underline-offset-3" {href} target="_blank" rel="noopener noreferrer external">{shown}</a
>{#if embed && !playing}<button type="button" class="act-link ml-1" onclick={() => (playing = true)}
		>▷ {say('portal.video.from', { host: new URL(embed).hostname })}</button
	>{:else if embed}<iframe
		class="mt-2 block aspect-video w-full border-0"
		src={embed}
		title={say('portal.video.from', { host: new URL(embed).hostname })}
		allow="fullscreen"
		sandbox="allow-scripts allow-same-origin allow-presentation"
		referrerpolicy="strict-origin"
	></iframe>{/if}
