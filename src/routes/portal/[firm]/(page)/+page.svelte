<script lang="ts">
	import Welcome from '$lib/ui/portal/Welcome.svelte';
	import { greeted } from '$lib/core/letters/merge-fields';
	import { isOpen, isSettled } from '$lib/core/requests/item-states';
	import { tickOf } from '$lib/core/requests/tick-strip';
	import TickMark from '$lib/ui/ticks/TickMark.svelte';
	import { underway } from '$lib/ui/papers/uploads.svelte';
	import { dateWords, dayOf } from '$lib/words/dates';
	import { sayer } from '$lib/words/words';

	let { data } = $props();
	const say = $derived(sayer(data.locale));
	type Item = (typeof data.items)[number];
	const shown = $derived(data.items.filter((i) => !data.only || i.clientId === data.only));
	/** a letter that somebody else signs is there to be read, and waits for nobody here */
	const mine = (item: Item) => isOpen(item.state) && item.signer === null;
	const open = $derived(shown.filter(mine));
	const rest = $derived(shown.filter((i) => !mine(i)));
	const next = $derived(open[0]);
	/** the businesses of this sign-in, in the order of their names */
	const clients = $derived(
		[...new Map(data.items.map((i) => [i.clientId, i.clientName])).entries()].sort((x, y) => x[1].localeCompare(y[1], data.locale))
	);
	const several = $derived(clients.length > 1);
	const minutes = $derived(open.reduce((sum, i) => sum + i.minutes, 0));
	const greeting = $derived(data.hour < 12 ? 'morning' : data.hour < 18 ? 'afternoon' : 'evening');
	/** What is open after the next thing, business by business, each in the order of its dates. */
	const groups = $derived(
		(several && !data.only ? clients : [['', ''] as const])
			.map(([id, name]) => {
				const of = id ? data.items.filter((item) => item.clientId === id) : data.items;
				return {
					id,
					name,
					items: open.slice(1).filter((item) => !id || item.clientId === id),
					done: of.filter((i) => !isOpen(i.state)).length,
					all: of.length
				};
			})
			.filter((group) => group.items.length > 0)
	);
	/** The word after something was done is read before anything else. */
	const readFirst = (element: HTMLElement) => element.focus();
	const stillGoing = $derived(
		[...new Set(underway().map(({ title }) => title))].map((title) => [title, underway().filter((upload) => upload.title === title).length] as const)
	);
	const SHOWN = 6;
	let allDone = $state(false);
	const day = (at: string) => dateWords(data.locale, dayOf(at, data.brand.timeZone), 'short');

	function aside(item: Item): string {
		if (item.state === 'handed_in') return say('portal.list.handedIn', { date: day(item.stateAt) });
		if (item.state === 'answered_no') return say('portal.list.said_no', { date: day(item.stateAt) });
		if (item.state === 'declined') return say('portal.list.declined', { date: day(item.stateAt) });
		if (item.state === 'waived') return say('portal.list.notNeeded');
		if (isSettled(item.state)) return say('portal.list.settled', { date: day(item.stateAt) });
		if (!item.dueOn) return '';
		return say(item.dueOn < data.today ? 'portal.list.wasDue' : 'portal.list.by', { date: dateWords(data.locale, item.dueOn, 'short') });
	}
	function below(item: Item): string {
		if (item.signer && isOpen(item.state)) return say('portal.kind.letterOther', { name: item.signer });
		if (item.unseen > 0) return say('portal.unseen', { count: item.unseen });
		if (item.state === 'sent_back') return say('portal.kind.sentBack', { reason: item.reason ?? '' });
		if (item.state === 'started') return say('portal.kind.started');
		if (!isOpen(item.state)) return '';
		return item.kind === 'letter' ? say('portal.kind.letter', { pages: item.pages }) : say(`portal.kind.${item.kind}`);
	}
</script>

<svelte:head><title>{data.brand.name}</title></svelte:head>

<h1 class="text-[1.65rem] leading-tight">{say(`portal.greeting.${greeting}`, greeted(data.person.name))}</h1>
{#if data.done}<p class="notice-lamp mt-3" role="status" tabindex="-1" {@attach readFirst}>
		{say(`portal.done.${data.done.what}`, { title: data.done.title, firm: data.brand.name })}
	</p>{/if}
{#each stillGoing as [title, count] (title)}<p class="notice-lamp mt-3" role="status">{say('portal.underway', { count, title })}</p>{/each}
{#if data.items.length === 0}
	<p class="mt-4 text-lg">{say('portal.nothingAsked')}</p>
	<p class="mt-1 text-(--half)">{say('portal.nothingAskedText', { firm: data.brand.name })}</p>
{:else if next}
	<p class="mt-0.5 text-[1.02rem] text-(--half)">{say('portal.left', { count: open.length })} {say('portal.minutes', { minutes })}</p>
	<section class="next" aria-labelledby="next-title">
		<p class="text-[0.92rem] font-bold text-(--act)">
			{next.state === 'sent_back'
				? say('portal.next.sentBack', { date: dateWords(data.locale, next.dueOn ?? data.today, 'long') })
				: next.dueOn && next.dueOn < data.today
					? say('portal.next.late', { date: dateWords(data.locale, next.dueOn, 'long') })
					: say('portal.next', { date: dateWords(data.locale, next.dueOn ?? data.today, 'long') })}
		</p>
		<h2 id="next-title" class="mt-1 text-[1.35rem] leading-snug">{next.title}</h2>
		{#if several}<p class="text-(--half)">{next.clientName}</p>{/if}
		{#if next.state === 'sent_back'}<p class="mt-1">
				{say('portal.sentBack.said', { name: next.lastActor ?? data.brand.name, reason: next.reason ?? '' })}
			</p>
		{:else if next.why}<p class="mt-1 text-(--half)">{next.why}</p>{/if}
		<a class="act mt-4 w-full" href="{data.home}/item/{next.id}">{say(`portal.act.${next.kind}`)}</a>
	</section>
{:else}
	<section class="next">
		<h2 class="text-[1.35rem]">{say('portal.allDone.title')}</h2>
		<p class="mt-1 text-(--half)">{say('portal.allDone.text', { firm: data.brand.name })}</p>
	</section>
{/if}

{#if data.newWords > 0}
	<p class="mt-5"><a class="act-link" href="{data.home}/words">{say('words.new', { count: data.newWords, firm: data.brand.name })}</a></p>
{/if}
{#if data.newPapers > 0 && data.areas.includes('papers')}
	<p class="mt-5"><a class="act-link" href="{data.home}/papers">{say('portal.newPapers', { count: data.newPapers })}</a></p>
{/if}
{#if several}
	<nav class="switch" aria-label={say('portal.switch')}>
		<a href={data.home} aria-current={data.only ? undefined : 'page'}>{say('portal.all')}</a>
		{#each clients as [id, name] (id)}<a href="{data.home}?client={id}" aria-current={data.only === id ? 'page' : undefined}>{name}</a>{/each}
	</nav>
{/if}

{#snippet row(item: Item)}
	<li>
		<a href="{data.home}/item/{item.id}" class="row">
			<span class="pt-1"><TickMark tick={tickOf(item, data.today)} size={15} /></span>
			<span class="min-w-0">
				<span class:text-(--half)={isSettled(item.state)}>{item.title}</span>
				<span class="block text-[0.88rem] text-(--half)"
					>{[several && !data.only && !isOpen(item.state) ? item.clientName : '', isOpen(item.state) ? item.heading : '', below(item)]
						.filter(Boolean)
						.join(' · ')}</span
				>
			</span>
			<span class="text-[0.88rem] whitespace-nowrap text-(--half)">{aside(item)}</span>
		</a>
	</li>
{/snippet}

{#each groups as group (group.id)}
	<section class="mt-6" aria-label={group.name || undefined}>
		{#if group.name}
			<h2 class="flex items-baseline justify-between pb-1 text-[1.1rem]">
				{group.name}<span class="font-sans text-[0.92rem] font-normal text-(--half)"
					>{say('portal.phase.done', { done: group.done, all: group.all })}</span
				>
			</h2>
		{/if}
		<ul class="border-t border-(--rule-strong)">
			{#each group.items as item (item.id)}{@render row(item)}{/each}
		</ul>
	</section>
{/each}
{#if rest.length > 0}
	<h2 class="mt-7 flex items-baseline justify-between text-[1.1rem]">
		{data.items[0].requestTitle && !several && new Set(data.items.map((i) => i.requestTitle)).size === 1 ? data.items[0].requestTitle : ''}
		<span class="ml-auto font-sans text-[0.92rem] font-normal text-(--half)"
			>{say('portal.list.progress', { done: rest.length, all: shown.length })}</span
		>
	</h2>
	<ul class="mt-1 border-t border-(--rule-strong)">
		{#each allDone ? rest : rest.slice(0, SHOWN) as item (item.id)}{@render row(item)}{/each}
	</ul>
	{#if rest.length > SHOWN && !allDone}<button class="act-link mt-1" onclick={() => (allDone = true)}
			>{say('portal.more', { count: rest.length - SHOWN })}</button
		>{/if}
{/if}
{#if !data.person.lookedAtBy}<p class="mt-6"><a class="act-link" href="{data.home}/send">{say('send.link')}</a></p>{/if}
{#if data.areas.length > 0}
	<nav class="mt-6 border-t border-(--rule-strong)" aria-label={say('portal.areas')}>
		{#each data.areas as area (area)}<a class="area" href="{data.home}/{area === 'letters' ? 'signed' : area}">{say(`${area}.title`)}</a>{/each}
	</nav>
{/if}
<div class="mt-8 text-[0.95rem] text-(--half)"><Welcome welcome={data.brand.welcome} locale={data.locale} /></div>
<p class="mt-6 flex flex-wrap gap-x-5">
	<a class="act-link" href={data.person.lookedAtBy ? `mailto:${data.office.email}` : `${data.home}/words`}
		>{say('portal.questions', { name: data.office.name })}</a
	>
	{#if data.office.phone}<a class="act-link" href="tel:{data.office.phone}">{say('portal.call', { phone: data.office.phoneWords })}</a>{/if}
</p>

<style>
	.switch {
		display: flex;
		flex-wrap: wrap;
		gap: 0.4rem;
		margin-top: 1.6rem;
	}
	.switch a {
		display: flex;
		align-items: center;
		min-height: 44px;
		padding: 0 0.9rem;
		border: 1px solid var(--rule-strong);
		border-radius: 6px;
		background: #fffefb;
		text-decoration: none;
	}
	.switch a[aria-current] {
		border-color: var(--act);
		box-shadow: inset 0 0 0 1px var(--act);
		font-weight: 700;
	}
	.area {
		display: flex;
		align-items: center;
		min-height: 48px;
		border-bottom: 1px solid var(--rule-strong);
		font-weight: 600;
	}
	.next {
		margin-top: 1rem;
		padding: 1rem 1.05rem 1.1rem;
		background: #fffefb;
		border: 1px solid var(--rule-strong);
		border-top: 4px solid var(--act);
	}
	.row {
		display: grid;
		grid-template-columns: 20px minmax(0, 1fr) auto;
		gap: 0.6rem;
		align-items: start;
		padding: 0.75rem 0;
		min-height: 48px;
		border-bottom: 1px solid var(--rule-strong);
		text-decoration: none;
		line-height: 1.35;
	}
</style>
