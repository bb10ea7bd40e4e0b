<script lang="ts">
	import { browser } from '$app/environment';
	import { page } from '$app/state';
	import { sayer } from '$lib/words/words';

	/** What stands in the place of a page that could not be shown: why, as far as it is known, and the way on. */
	const home = $derived(page.url.pathname.startsWith('/portal') ? page.url.pathname.split('/').slice(0, 3).join('/') : '/desk/rounds');
	/** of the portal the page belongs to; an address that belongs to none is told in the language of the page */
	const say = $derived(sayer((page.data.locale as string | undefined) ?? (browser ? document.documentElement.lang : 'en')));
	const why = $derived(
		page.error?.unreachable ? 'unreachable' : page.status === 404 ? 'notFound' : page.status < 500 ? 'refused' : ('broken' as const)
	);
	const title = $derived(
		why === 'refused'
			? (page.error?.message ?? '')
			: say(why === 'unreachable' ? 'error.unreachable' : why === 'notFound' ? 'error.notFound' : 'error.broken')
	);
</script>

<svelte:head><title>{title}</title></svelte:head>
<div class="mx-auto max-w-xl px-6 py-24">
	<h1 class="text-3xl">{title}</h1>
	{#if why === 'unreachable'}
		<p class="mt-3 text-(--half)">{say('error.unreachableText')}</p>
		<p class="mt-6"><a class="act" href={page.url.pathname + page.url.search} data-sveltekit-reload>{say('error.again')}</a></p>
	{:else}
		<p class="mt-3 text-(--half)">{why === 'notFound' ? say('error.notFoundText') : why === 'broken' ? say('error.brokenText') : ''}</p>
		<p class="mt-6"><a class="act-link" href={home}>{say('error.home')}</a></p>
		{#if page.error?.requestId && page.status >= 500}<p class="mt-10 text-xs text-(--faint)">{page.error.requestId}</p>{/if}
	{/if}
</div>
