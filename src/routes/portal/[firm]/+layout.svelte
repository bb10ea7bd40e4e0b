<script lang="ts">
	import { page } from '$app/state';
	import { LANGUAGE_CODES, LANGUAGES } from '$lib/core/people/languages';
	import { clearCopies } from '$lib/ui/forms/typed-copies';
	import { say } from '$lib/words/words';

	let { data, children } = $props();
	// the page is read in another language once one is chosen
	$effect(() => {
		document.documentElement.lang = data.locale;
	});
	/** on another website the page stands without the firm's head: there it has one of its own */
	const framed = $derived(page.data.framed === true);
	const person = $derived(page.data.person as { name: string; lookedAtBy: string | null } | undefined);
</script>

<div class="portal" class:looking={person?.lookedAtBy} style="--brand: {data.brand.color}" lang={data.locale}>
	{#if person?.lookedAtBy}
		<form method="post" action="/desk/looks/none?/end" class="banner">
			<span>{say(data.locale, 'portal.looking', { name: person.name })}</span>
			<button class="act-quiet">{say(data.locale, 'portal.looking.leave')}</button>
		</form>
	{/if}
	{#if data.brand.practice}<p class="practice" role="note">{say(data.locale, 'portal.practice')}</p>{/if}
	{#if !framed}<header>
			<div class="inner">
				<a href={data.home} class="serif flex items-center gap-3 text-lg leading-tight font-semibold no-underline"
					>{#if data.brand.logo}<img src={data.brand.logo} alt="" class="max-h-10 max-w-28 rounded bg-white object-contain p-1" />{/if}{data.brand
						.name}</a
				>
				{#if person && !person.lookedAtBy}
					<form method="post" action="{data.home}/sign-out" onsubmit={clearCopies}>
						<button class="min-h-11 cursor-pointer px-2 text-sm whitespace-nowrap underline underline-offset-4"
							>{say(data.locale, 'portal.signOut')}</button
						>
					</form>
				{/if}
			</div>
		</header>{/if}
	<main class="inner body">{@render children()}</main>
	{#if !person?.lookedAtBy && !framed}
		<footer class="inner">
			{#if person}
				<a class="act-link" href="{data.home}/told">{say(data.locale, 'writing.link')}</a>
				<a class="act-link" href="{data.home}/you">{say(data.locale, 'you.link')}</a>
				<a class="act-link" href="{data.home}/help">{say(data.locale, 'help.link')}</a>
			{/if}
			<form method="post" action="{data.home}/language" data-sveltekit-keepfocus>
				<input type="hidden" name="to" value={page.url.pathname} />
				{#each LANGUAGE_CODES.filter((code) => code !== data.locale) as code (code)}
					<button class="act-link" name="language" value={code} lang={code}>{LANGUAGES[code]}</button>
				{/each}
			</form>
		</footer>
	{/if}
</div>

<style>
	.portal {
		min-height: 100dvh;
		background: #f7f4ec;
		color: #1d2530;
		--paper: #f7f4ec;
		--act: var(--brand);
		--act-ink: #fff;
		color-scheme: light;
	}
	.practice {
		padding: 0.5rem 18px;
		background: repeating-linear-gradient(135deg, #fdebc8 0 14px, #fff7e6 14px 28px);
		font-size: 0.92rem;
	}
	.looking {
		border: 6px solid #e9a43a;
	}
	.banner {
		position: sticky;
		top: 0;
		z-index: 30;
		display: flex;
		flex-wrap: wrap;
		align-items: center;
		justify-content: space-between;
		gap: 0.5rem 1rem;
		padding: 0.5rem 18px;
		background: #fdebc8;
		color: #1d2530;
		font-size: 0.92rem;
	}
	header {
		background: var(--brand);
		color: #fff;
	}
	header .inner {
		display: flex;
		justify-content: space-between;
		align-items: center;
		gap: 1rem;
		padding-block: 0.55rem;
	}
	.inner {
		max-width: 40rem;
		margin-inline: auto;
		padding-inline: 18px;
	}
	.body {
		padding-block: 1.1rem 3rem;
	}
	footer {
		display: flex;
		flex-wrap: wrap;
		gap: 0 1.5rem;
		padding-bottom: 2rem;
		font-size: 0.92rem;
	}
	.portal :global(.act),
	.portal :global(.act-quiet) {
		min-height: 48px;
		font-size: 1.02rem;
		padding-inline: 1.1rem;
		border-radius: 6px;
	}
	.portal :global(.field input),
	.portal :global(.field textarea) {
		font-size: 1.05rem;
		padding: 0.65rem 0.75rem;
		min-height: 46px;
	}
	.portal :global(.field > span) {
		font-size: 0.92rem;
	}
	.portal :global(.act-link) {
		display: inline-flex;
		align-items: center;
		min-height: 44px;
	}
</style>
