<script lang="ts">
	import { embedOf } from '$lib/core/firms/embed';
	import { sayer } from '$lib/words/words';

	/** The firm's welcome: its words, and beside them a picture or a video. The video is fetched only when somebody plays it. */
	let { welcome, locale }: { welcome: { words: string; picture: string | null; video: string | null }; locale: string } = $props();
	const say = $derived(sayer(locale));
	const player = $derived(welcome.video ? embedOf(welcome.video) : null);
	let playing = $state(false);
</script>

{#if welcome.words || welcome.picture || welcome.video}
	<div class="welcome">
		{#if welcome.picture}<img src={welcome.picture} alt="" />{/if}
		{#if welcome.words}<p class="whitespace-pre-line">{welcome.words}</p>{/if}
		{#if playing && player}
			<iframe
				title={say('portal.video')}
				src={player}
				sandbox="allow-scripts allow-same-origin allow-presentation"
				allow="fullscreen"
				referrerpolicy="strict-origin"
			></iframe>
		{:else if player}<p>
				<button type="button" class="act-quiet" onclick={() => (playing = true)}>{say('portal.video.play')}</button>
				<span class="text-[0.82rem] text-(--half)">{say('portal.video.from', { host: new URL(player).hostname })}</span>
			</p>
		{:else if welcome.video}<p>
				<a class="act-link" href={welcome.video} target="_blank" rel="noopener noreferrer">{say('portal.video.link')}</a>
			</p>{/if}
	</div>
{/if}

<style>
	.welcome {
		display: grid;
		gap: 0.6rem;
	}
	img {
		width: 100%;
		max-height: 16rem;
		object-fit: cover;
		border: 1px solid var(--rule-strong);
	}
	iframe {
		width: 100%;
		aspect-ratio: 16 / 9;
		border: 1px solid var(--rule-strong);
	}
</style>
