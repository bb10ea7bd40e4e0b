<script lang="ts">
	import { untrack } from 'svelte';
	import { page } from '$app/state';
	import { isOpen } from '$lib/core/requests/item-states';
	import { ANSWER, type TypedValue } from '$lib/core/requests/typed';
	import { asksCode } from '$lib/core/signing/ways';
	import { enhancedForm } from '$lib/ui/forms/enhanced-form';
	import ItemTalk from '$lib/ui/portal/ItemTalk.svelte';
	import ItemWords from '$lib/ui/portal/ItemWords.svelte';
	import { keepTypedOf } from '$lib/ui/portal/keep-typed.svelte';
	import type { FormProblem } from '$lib/web/form-errors';
	import { dateWords } from '$lib/words/dates';
	import { sayer } from '$lib/words/words';

	let { data, form } = $props();
	const say = $derived(sayer(data.locale));
	const door = $derived(data.door);
	const letter = $derived(data.letter);
	const at = $derived(`${data.home}/sign/${page.params.link}`);
	const values = $derived({
		title: door.title,
		name: door.name,
		firm: data.brand.name,
		days: data.days,
		minutes: data.minutes,
		to: door.codeTo ?? ''
	});
	const itemId = $derived(letter?.item.id);
	// one keeper a letter: it stays while the page is read anew around it
	const kept = $derived.by(() => {
		const id = itemId;
		return id === undefined
			? null
			: untrack(() => keepTypedOf({ at, itemId: id, personId: letter!.person.id, typed: letter!.item.typed, now: data.now }));
	});
	/** Where no scripts run, a refused form comes back with the page: which act it was, and what was typed there. */
	const refusal = $derived.by(() => {
		const what = (form as { problem?: FormProblem } | null)?.problem;
		const act = /^\?\/(\w+)/.exec(page.url.search)?.[1] ?? '';
		const prefix = act === 'sign' ? ANSWER : act === 'writeRemark' ? 'talk.' : `${act}.`;
		return what ? { ...what, act: act === 'writeRemark' ? 'talk' : act, prefix } : null;
	});
	const typed = (name: string): TypedValue | undefined =>
		refusal && name.startsWith(refusal.prefix) ? (refusal.values[name.slice(refusal.prefix.length)] ?? kept?.typed(name)) : kept?.typed(name);
	/** the letter was open here, and was closed by itself */
	let wasIn = $state(false);
	$effect(() => {
		if (letter) wasIn = true;
	});
	let left = $state(false);
	let told = $state<FormProblem | null>(null);
	let pending = $state(false);
	const problem = $derived(told ?? (refusal && (refusal.act === 'open' || refusal.act === 'enter') ? refusal : null));
	const handling = {
		onPending: (begins: boolean) => (pending = begins),
		onProblem: (what: FormProblem) => void (told = what),
		onSuccess: () => {
			told = null;
			left = false;
		}
	};
	const open = $derived(letter !== null && isOpen(letter.item.state) && letter.item.clientState === 'active');
</script>

<svelte:head><title>{door.title} · {data.brand.name}</title><meta name="robots" content="noindex" /></svelte:head>

{#if letter && data.SignLetter && letter.pages && kept}
	<h1 class="text-[1.55rem] leading-snug">{letter.item.title}</h1>
	<p class="text-(--half)">
		{letter.item.clientName}{open && letter.item.dueOn ? ` · ${say('item.due', { date: dateWords(data.locale, letter.item.dueOn, 'long') })}` : ''}
	</p>
	{#if letter.item.clientState !== 'active'}<p class="notice-lamp mt-3">{say('portal.closed', { client: letter.item.clientName })}</p>
	{:else if (letter.item.why || letter.item.text) && open}<div class="mt-2">
			<ItemWords why={letter.item.why ?? ''} text={letter.item.text} locale={data.locale} filesAt="{at}/attachments" />
		</div>{/if}
	<data.SignLetter
		item={letter.item}
		pages={letter.pages}
		locale={data.locale}
		brand={data.brand}
		pdf="{at}/pdf"
		filesAt="{at}/attachments"
		person={letter.person}
		now={data.now}
		maySign={letter.item.clientState === 'active'}
		{kept}
		{typed}
		refused={refusal}
		declineWords={String(typed('decline.reason') ?? '')}
		lastMark={letter.lastMark}
		known={letter.knownPlaces}
	/>
	<ItemTalk
		remarks={letter.remarks}
		locale={data.locale}
		firm={data.brand.name}
		timeZone={data.brand.timeZone}
		mayWrite={letter.item.clientState === 'active'}
		{kept}
		typed={String(typed('talk.words') ?? '')}
		refused={refusal?.act === 'talk' ? refusal.message : ''}
	/>
	<form
		method="post"
		action="?/leave"
		class="mt-8 border-t border-(--rule-strong) pt-3"
		{@attach enhancedForm({
			onSuccess: () => {
				wasIn = false;
				left = true;
			}
		})}
	>
		<button class="act-link">{say('letterDoor.leave')}</button>
	</form>
{:else}
	<h1 class="text-[1.55rem] leading-snug">{say('letterDoor.title')}</h1>
	{#if door.over}<p class="notice-lamp mt-3">{say(`letterDoor.over.${door.over}`, values)}</p>
	{:else}
		{#if wasIn && !left}<p class="notice-lamp mt-3" role="status">{say('wrong.letterLink.out')}</p>{/if}
		<p class="mt-1 text-[1.05rem]">{say('letterDoor.lead', values)}</p>
		{#if asksCode(door.way) && !door.codeWaits}<p class="mt-3 text-(--half)">
				{say(door.way === 'link_text' ? 'letterDoor.codeText' : 'letterDoor.codeMail', values)}
			</p>{/if}
		{#if problem}<p class="notice-wrong mt-4" role="alert">{problem.message}</p>{/if}
		{#if door.codeWaits}
			<p class="mt-3" role="status">{say('letterDoor.sent', values)}</p>
			<form method="post" action="?/enter" class="mt-4 space-y-3" {@attach enhancedForm(handling)}>
				<label class="field"
					><span>{say('letterDoor.code')}</span><input
						name="code"
						autocomplete="one-time-code"
						inputmode="numeric"
						maxlength="20"
						required
						aria-invalid={problem?.fields.code ? 'true' : undefined}
					/></label
				>
				<button class="act w-full" disabled={pending}>{say('letterDoor.open')}</button>
			</form>
		{/if}
		<form method="post" action="?/open" class="mt-4" {@attach enhancedForm(handling)}>
			{#if door.codeWaits}<button class="act-link" disabled={pending}>{say('letterDoor.again')}</button>
			{:else}<button class="act w-full" disabled={pending}>{say(asksCode(door.way) ? 'letterDoor.send' : 'letterDoor.open')}</button>{/if}
		</form>
		<p class="mt-6 text-sm text-(--half)">{say('letterDoor.notYou', values)}</p>
	{/if}
{/if}
