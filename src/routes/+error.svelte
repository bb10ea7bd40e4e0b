<script lang="ts">
	import { browser } from '$app/environment';
	import { page } from '$app/state';
	import { say } from '$lib/words/words';

	const home = $derived(page.url.pathname.startsWith('/portal') ? page.url.pathname.split('/').slice(0, 3).join('/') : '/desk/rounds');
	/** of the portal the page belongs to; an address that belongs to none is told in the language of the page */
	const locale = $derived((page.data.locale as string | undefined) ?? (browser ? document.documentElement.lang : 'en'));
	const missing = $derived(page.status === 404);
</script>

<svelte:head><title>{say(locale, missing ? 'error.notFound' : 'error.broken')}</title></svelte:head>
<main class="mx-auto max-w-xl px-6 py-24">
	<h1 class="text-3xl">{missing ? say(locale, 'error.notFound') : page.status < 500 ? page.error?.message : say(locale, 'error.broken')}</h1>
	<p class="mt-3 text-(--half)">{missing ? say(locale, 'error.notFoundText') : page.status < 500 ? '' : say(locale, 'error.brokenText')}</p>
	<p class="mt-6"><a class="act-link" href={home}>{say(locale, 'error.home')}</a></p>
	{#if page.error?.requestId && page.status >= 500}<p class="mt-10 text-xs text-(--faint)">{page.error.requestId}</p>{/if}
</main>
