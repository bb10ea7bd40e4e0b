<script lang="ts">
	import { page } from '$app/state';
	import { say } from '$lib/words/words';

	const home = $derived(page.url.pathname.startsWith('/portal') ? page.url.pathname.split('/').slice(0, 3).join('/') : '/desk/rounds');
	const missing = $derived(page.status === 404);
</script>

<svelte:head><title>{say('en', missing ? 'error.notFound' : 'error.broken')}</title></svelte:head>
<main class="mx-auto max-w-xl px-6 py-24">
	<h1 class="text-3xl">{missing ? say('en', 'error.notFound') : page.status < 500 ? page.error?.message : say('en', 'error.broken')}</h1>
	<p class="mt-3 text-(--half)">{missing ? say('en', 'error.notFoundText') : page.status < 500 ? '' : say('en', 'error.brokenText')}</p>
	<p class="mt-6"><a class="act-link" href={home}>{say('en', 'error.home')}</a></p>
	{#if page.error?.requestId && page.status >= 500}<p class="mt-10 text-xs text-(--faint)">{page.error.requestId}</p>{/if}
</main>
