<script lang="ts">
	import { OTHER_ACTS } from '$lib/ui/portal/other-acts';
	import { untrack } from 'svelte';
	import { page } from '$app/state';
	import { isOpen } from '$lib/core/requests/item-states';
	import { ANSWER, type TypedValue } from '$lib/core/requests/typed';
	import { keepTypedOf } from '$lib/ui/portal/keep-typed.svelte';
	import ItemBody from '$lib/ui/portal/ItemBody.svelte';
	import PassOn from '$lib/ui/portal/PassOn.svelte';
	import ItemTalk from '$lib/ui/portal/ItemTalk.svelte';
	import ItemWords from '$lib/ui/portal/ItemWords.svelte';
	import type { FormProblem } from '$lib/web/form-errors';
	import { dateWords, dayOf } from '$lib/words/dates';
	import { sayer } from '$lib/words/words';

	let { data, form } = $props();
	const say = $derived(sayer(data.locale));
	const item = $derived(data.item);
	// a client the firm does not work for just now is only read
	const closed = $derived(item.clientState !== 'active');
	/** what they are about to ask about */
	let about = $state<{ item: string; what: string } | null>(null);
	/** the answer for which they are about to ask somebody else */
	let passing = $state<{ item: string; key: string } | null>(null);
	const mayWrite = $derived(!closed && !data.person.lookedAtBy);
	const open = $derived(isOpen(item.state) && !closed);
	/** Where no scripts run, a refused form comes back with the page: which act it was, and what was typed there. */
	const refusal = $derived.by(() => {
		const what = (form as { problem?: FormProblem } | null)?.problem;
		const action = /^\?\/(\w+)/.exec(page.url.search)?.[1] ?? '';
		const act = Object.entries(OTHER_ACTS).find(([, name]) => name === action)?.[0] ?? action;
		const prefix = act !== 'handIn' && act !== 'sign' ? `${act}.` : item.kind === 'approve' ? 'change.' : ANSWER;
		return what ? { ...what, act, prefix } : null;
	});
	let told = $state<{ message: string; fields: Record<string, string> } | null>(null);
	const problem = $derived(told ? told.message : (refusal?.act !== 'talk' && refusal?.message) || '');
	const fields = $derived(told ? told.fields : (refusal?.fields ?? {}));
	const itemId = $derived(data.item.id);
	// one keeper an item: it stays while the page is read anew around it
	const kept = $derived.by(() => {
		const id = itemId;
		return untrack(() => keepTypedOf({ at: `${data.home}/item/${id}`, itemId: id, personId: data.person.id, typed: data.item.typed, now: data.now }));
	});
	const typed = (name: string): TypedValue | undefined =>
		refusal && name.startsWith(refusal.prefix)
			? (refusal.several?.[name.slice(refusal.prefix.length)] ?? refusal.values[name.slice(refusal.prefix.length)] ?? kept.typed(name))
			: kept.typed(name);
	const stateWords = $derived.by(() => {
		const values = {
			firm: data.brand.name,
			date: dateWords(data.locale, dayOf(item.stateAt, data.brand.timeZone), 'long'),
			reason: item.reason ?? ''
		};
		if (item.state === 'handed_in' && item.reason) return say('item.state.sentAlready', values);
		return item.state === 'handed_in' ||
			item.state === 'accepted' ||
			item.state === 'waived' ||
			item.state === 'answered_no' ||
			item.state === 'declined'
			? say(`item.state.${item.state}`, values)
			: '';
	});

	const subtitle = $derived(
		[
			item.clientName,
			open && item.dueOn ? say(item.dueOn < data.today ? 'item.dueLate' : 'item.due', { date: dateWords(data.locale, item.dueOn, 'long') }) : '',
			item.required || item.raised ? '' : say('item.optional')
		]
			.filter(Boolean)
			.join(' · ')
	);
</script>

<svelte:head><title>{item.title} · {data.brand.name}</title></svelte:head>

<p><a class="act-link" href={data.home}>← {say('portal.back')}</a></p>
<h1 class="mt-1 text-[1.55rem] leading-snug">{item.title}</h1>
<p class="text-(--half)">{subtitle}</p>

{#if closed}<p class="notice-lamp mt-3">{say('portal.closed', { client: item.clientName })}</p>
{:else if item.state === 'sent_back'}<p class="notice-lamp mt-3">
		{say('portal.sentBack.said', { name: item.lastActor ?? data.brand.name, reason: item.reason ?? '' })}
	</p>
{:else if (item.why || item.text) && open}<div class="mt-2">
		<ItemWords why={item.why ?? ''} text={item.text} locale={data.locale} filesAt="{data.home}/attachments" />
	</div>{/if}
{#each data.passing.passed.filter(({ toReader, doneAt }) => toReader && doneAt === null && open) as one (one.id)}
	<p class="notice-lamp mt-3">
		{say('item.pass.lead', { name: one.byName, count: one.keys.length })}
		{#if one.words}<span class="mt-1 block whitespace-pre-line">“{one.words}”</span>{/if}
	</p>
{/each}
{#if problem && item.kind !== 'letter'}<p class="notice-wrong mt-3" role="alert">{problem}</p>{/if}
{#if kept.met}<p class="notice-lamp mt-3" role="status">{say(`item.typed.${kept.met}`)}</p>{/if}

{#if data.afterCheck && open}<p class="notice-lamp mt-4">{say('letter.afterCheck', { own: data.mayRead ? 'yes' : 'no', name: item.contactName })}</p>
{:else if data.SignLetter && data.pages && item.letter}
	<data.SignLetter
		{item}
		pages={data.pages}
		locale={data.locale}
		brand={data.brand}
		home={data.home}
		pdf="{data.home}/letters/{item.id}"
		filesAt="{data.home}/attachments"
		person={{ name: data.person.name, email: data.person.email }}
		now={data.now}
		maySign={data.mayRead && !closed}
		{kept}
		{typed}
		refused={refusal}
		declineWords={String(typed('decline.reason') ?? '')}
		lastMark={data.lastMark}
		known={data.knownPlaces}
	/>
{:else}
	{#if stateWords}<p class="notice-lamp mt-4">{stateWords}</p>{/if}
	{#key item.id}<ItemBody
			{item}
			side={data.side}
			remarks={data.remarks}
			locale={data.locale}
			brand={data.brand}
			home={data.home}
			filesAt="{data.home}/attachments"
			later={data.later}
			now={data.now}
			{closed}
			{fields}
			{kept}
			{typed}
			known={data.known}
			reader={{ name: data.person.name, isAsked: data.mayRead }}
			passed={data.passing.passed}
			passOn={mayWrite && open && data.passing.people.length > 0 ? (key) => (passing = { item: item.id, key }) : undefined}
			refused={refusal?.act ?? null}
			onProblem={(p) => (told = p)}
			askAbout={mayWrite ? (what) => (about = { item: item.id, what }) : undefined}
		/>{/key}
{/if}
{#if item.kind === 'questionnaire' && mayWrite && open}
	{#key item.id}<PassOn
			questions={item.spec.questions}
			people={data.passing.people}
			passed={data.passing.passed}
			about={passing?.item === item.id ? passing : null}
			locale={data.locale}
			refused={refusal?.act === 'passOn' ? refusal.message : ''}
			hurry={kept.hurry}
		/>{/key}
{/if}
{#key item.id}<ItemTalk
		remarks={data.remarks.filter((remark) => !remark.pinned)}
		locale={data.locale}
		firm={data.brand.name}
		timeZone={data.brand.timeZone}
		{mayWrite}
		{kept}
		about={about?.item === item.id ? about : null}
		typed={String(typed('talk.words') ?? '')}
		refused={refusal?.act === 'talk' ? refusal.message : ''}
	/>{/key}
