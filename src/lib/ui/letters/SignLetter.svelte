<script lang="ts">
	import { onMount, tick } from 'svelte';
	import { invalidateAll } from '$app/navigation';
	import { filesBeside } from '$lib/core/requests/files-beside';
	import { ANSWER, type TypedValue } from '$lib/core/requests/typed';
	import { asksForAccount, BANK_KINDS, fieldsOf, leftOf, PLACES, type Place, type Values } from '$lib/core/signing/places';
	import type { ItemRow, LetterPages as Pages } from '$lib/server/items/read-items';
	import { dateWords, dayOf } from '$lib/words/dates';
	import { sayer } from '$lib/words/words';
	import { enhancedForm } from '../forms/enhanced-form';
	import LetterPages from './LetterPages.svelte';
	import TextChanges from './TextChanges.svelte';
	import LetterText from './LetterText.svelte';
	import { placeContent } from './place-content';
	import PlaceFields from './PlaceFields.svelte';
	import type { Signature } from '$lib/core/signing/signature';
	import SignaturePlace from './SignaturePlace.svelte';
	import type { TypedKeeper } from '../portal/keep-typed.svelte';
	import PaperUpload from '../papers/PaperUpload.svelte';
	import FilesBeside from '../portal/FilesBeside.svelte';
	import Unfold from '../portal/Unfold.svelte';

	let {
		item,
		pages,
		locale,
		brand,
		home,
		pdf,
		filesAt,
		person,
		now,
		maySign,
		kept,
		typed,
		refused,
		declineWords,
		lastMark,
		known
	}: {
		item: Omit<ItemRow, 'nextChaseOn'>;
		pages: Pages;
		locale: string;
		brand: { name: string; timeZone: string };
		/** address of their page; null for who comes by a link of their own */ home: string | null;
		/** address of its PDF */ pdf: string;
		/** address under which the files beside it are found */ filesAt: string;
		person: { name: string; email: string };
		/** instant */ now: string;
		maySign: boolean;
		/** keeps what is typed */ kept: TypedKeeper;
		/** what was typed into a field and not sent */ typed: (name: string) => TypedValue | undefined;
		/** what was wrong, where no scripts run */ refused: { act: string; message: string; fields?: Record<string, string> } | null;
		/** what was typed of a reason not to sign */ declineWords: string;
		/** what is known already of what is asked on its pages, by label */ known: Readonly<Record<string, string>>;
		/** what they drew, or took a picture of, when they signed last */ lastMark: Signature | null;
	} = $props();
	const say = $derived(sayer(locale));
	const letter = $derived(item.letter!);
	// svelte-ignore state_referenced_locally
	let shown = $state(item.letter!.shownWholeAt !== null);
	/** scripts run: the page sees for itself whether the end was reached */
	let alive = $state(false);
	onMount(() => void (alive = true));
	// svelte-ignore state_referenced_locally
	let problem = $state(refused?.message ?? '');
	let pending = $state(false);
	// svelte-ignore state_referenced_locally
	let wrong = $state<Record<string, string>>(refused?.fields ?? {});
	/** the pages are there, and their end can come into sight */
	let opened = $state(false);
	/** pages twice as wide as their window, for small print on a phone */
	let large = $state(false);
	const fields = $derived(fieldsOf(pages.places, pages.own));
	// svelte-ignore state_referenced_locally
	let values = $state<Record<string, string>>(
		Object.fromEntries(fieldsOf(pages.places, pages.own).map(({ label }, at) => [label, String(typed(`${ANSWER}place.${at}`) ?? known[label] ?? '')]))
	);
	// svelte-ignore state_referenced_locally
	let name = $state(person.name);
	const own = $derived(letter.signers.find((signer) => signer.own));
	const mayFill = $derived(maySign && own?.state === 'asked' && (letter.state === 'sent' || letter.state === 'signed'));
	// a number of an account is kept encrypted: it is not written on paper
	const onPaper = $derived(pages.own === null || !asksForAccount(pages.places, pages.own));
	const left = $derived(leftOf(fields, values));
	const mine = $derived(pages.places.filter(({ of }) => of === pages.own));
	const kindWords = (place: Place) =>
		place.label ||
		(place.kind === 'signature' || place.kind === 'initials' || place.kind === 'date' || place.kind === 'name' || place.kind === 'email'
			? say(`letter.place.${place.kind}`)
			: '');
	/** what stands where the account is named: what was given, as far as it is shown */
	const accountWords = $derived(
		pages.places
			.filter(({ kind, of, label }) => BANK_KINDS.includes(kind) && pages.signed[of]?.filled[label])
			.map(({ of, label }) => `${label}: ${pages.signed[of].filled[label]}`)
			.join(' · ') || say('letter.payment.below')
	);
	const whose = (place: Place) => letter.signers.find(({ key }) => key === place.of)?.name ?? '';
	const valuesOf = (key: string): Values => (key === pages.own && mayFill ? values : (pages.signed[key]?.filled ?? {}));
	function content(place: Place): string {
		const done = pages.signed[place.of];
		const own = place.of === pages.own && mayFill ? { name, at: now, filled: values, email: person.email, signed: false } : null;
		return placeContent(place, done ? { ...done, signed: true } : own, locale, brand.timeZone);
	}
	/** An own place leads to where it is filled in. */
	function press(place: Place) {
		const at = fields.findIndex(({ label }) => label === place.label);
		const field =
			at >= 0 ? globalThis.document.querySelector<HTMLElement>(`[name="place.${at}"]`) : signing?.querySelector<HTMLElement>('[name="name"]');
		if (field instanceof HTMLInputElement && field.type === 'checkbox') field.click();
		field?.scrollIntoView({ block: 'center' });
		field?.focus({ preventScroll: true });
	}
	let signing = $state<HTMLElement>();
	let shownPlace = $state(-1);
	/** One place after another, from the first. */
	function nextPlace() {
		shownPlace = (shownPlace + 1) % mine.length;
		const place = globalThis.document.querySelector<HTMLElement>(`[data-place="${CSS.escape(mine[shownPlace].id)}"]`);
		place?.scrollIntoView({ block: 'center' });
		place?.focus({ preventScroll: true });
	}
	const waitingFor = $derived(letter.signers.filter(({ state, copy, own }) => !copy && !own && (state === 'asked' || state === 'waits')));
	const day = (at: string) => dateWords(locale, dayOf(at, brand.timeZone), 'long');
	const handling = {
		onPending: (p: boolean) => (pending = p),
		onProblem: (p: { message: string; fields: Record<string, string> }) => {
			problem = p.message;
			wrong = p.fields;
		},
		onSuccess: async () => {
			problem = '';
			// what comes of it stands above the letter: it is read first
			await invalidateAll();
			await tick();
			notice?.scrollIntoView({ block: 'center' });
			notice?.focus({ preventScroll: true });
		}
	};
	let notice = $state<HTMLElement>();

	/** The end of the letter has come into sight: the server is told, and signing becomes possible. */
	function whenSeen(element: HTMLElement) {
		const observer = new IntersectionObserver((entries) => {
			if (!entries.some((e) => e.isIntersecting) || shown) return;
			observer.disconnect();
			void fetch('?/noteShown', { method: 'POST', body: new FormData(), headers: { 'x-sveltekit-action': 'true' } }).then((answer) => {
				if (answer.ok) shown = true;
			});
		});
		observer.observe(element);
		return () => observer.disconnect();
	}
</script>

{#if letter.state === 'sealed'}
	<p class="notice-lamp mt-4">{say('letter.sealed', { date: day(letter.sealedAt!) })}</p>
	<a class="act mt-3 w-full" href={pdf} download>{say('letter.download')}</a>
{:else if own?.state === 'signed' && (letter.state === 'sent' || letter.state === 'signed' || letter.state === 'complete')}<p
		class="notice-lamp mt-4"
		role="status"
		tabindex="-1"
		bind:this={notice}
	>
		{letter.state === 'complete'
			? say('letter.signedSealing', { date: day(own.signedAt!) })
			: waitingFor.every(({ side }) => side === 'firm')
				? say('letter.signed', { date: day(own.signedAt!), firm: brand.name })
				: say('letter.signedWaits', {
						date: day(own.signedAt!),
						count: waitingFor.length,
						names: new Intl.ListFormat(locale).format(waitingFor.map(({ name }) => name))
					})}
	</p>
{:else if letter.state === 'declined'}<p class="notice-lamp mt-4">
		{own?.state === 'declined'
			? say('item.state.declined', { date: day(item.stateAt), reason: item.reason ?? '' })
			: say('letter.declinedBy', { name: letter.signers.find(({ state }) => state === 'declined')?.name ?? brand.name })}
	</p>
{:else if letter.state === 'lapsed'}<p class="notice-lamp mt-4">
		{say('letter.lapsed', { date: dateWords(locale, letter.lapsesOn!), firm: brand.name })}
	</p>
{:else if letter.state === 'withdrawn'}<p class="notice-lamp mt-4">{say('item.state.waived', { firm: brand.name })}</p>
{:else if !maySign && item.contactName}<p class="notice-lamp mt-4">{say('letter.other', { name: item.contactName })}</p>
{:else if own?.onPaperAt}<p class="notice-lamp mt-4" role="status" tabindex="-1" bind:this={notice}>
		{say('letter.paper.sent', { firm: brand.name })}
	</p>
{:else}<p class="mt-3 text-(--half)">
		{say('letter.read')}
		{#if letter.lapsesOn}{say('letter.until', { date: dateWords(locale, letter.lapsesOn) })}{/if}
	</p>{/if}

<FilesBeside files={filesBeside(item)} {filesAt} {locale} />
{#if pages.changes}
	<section class="mt-4" aria-label={say('letter.changes.title')}>
		<h2 class="text-base">{say('letter.changes.title')}</h2>
		<p class="mb-2 text-sm text-(--half)">{say('letter.changes.lead')}</p>
		<TextChanges changes={pages.changes} {locale} />
	</section>
{/if}
{#if letter.signers.length > 2}
	<section class="mt-4" aria-label={say('letter.signersTitle')}>
		<h2 class="text-base">{say('letter.signersTitle')}</h2>
		<ol class="mt-1 text-sm text-(--half)">
			{#each letter.signers as signer (signer.key)}
				<li>
					<span class="font-bold text-(--ink)">{signer.name}</span>
					{signer.copy
						? say('letter.signer.copy')
						: signer.state === 'signed'
							? say('letter.signer.signed', { date: day(signer.signedAt!) })
							: say(`letter.signer.${signer.state}`)}
				</li>
			{/each}
		</ol>
	</section>
{/if}
{#if pages.document}
	<article class="mt-4 border border-(--rule-strong) bg-[#fffefb] px-5 py-6 sm:px-9" aria-label={item.title}>
		<p class="serif text-xl font-semibold text-(--act)">{brand.name}</p>
		<div class="mt-4"><LetterText document={pages.document} account={{ title: say('letter.payment.title'), words: accountWords }} /></div>
		<div {@attach whenSeen} class="mt-2 h-px" aria-hidden="true"></div>
	</article>
{:else}
	<p class="mt-3 flex flex-wrap items-baseline gap-x-5">
		{#if mayFill && mine.length > 0}<span>{say('letter.places', { count: mine.length })}</span>{/if}
		{#if alive && opened}
			{#if mayFill && mine.length > 0}<button type="button" class="act-link" onclick={nextPlace}>{say('letter.places.next')}</button>{/if}
			<button type="button" class="act-link" aria-pressed={large} onclick={() => (large = !large)}
				>{say(large ? 'letter.pages.fit' : 'letter.pages.large')}</button
			>
		{/if}
	</p>
	<article class="mt-2 overflow-x-auto border border-(--rule-strong) bg-(--rule) p-1 sm:p-2" aria-label={item.title}>
		{#if alive}<LetterPages
				src="{pdf}?pages"
				name={item.title}
				most={letter.pages}
				zoom={large ? 2 : 1}
				places={letter.state === 'sealed' ? [] : pages.places}
				own={mayFill ? pages.own : null}
				{content}
				{whose}
				{kindWords}
				pageWords={(page, count) => say('letter.pages.page', { page, count })}
				textWords={(page) => say('letter.pages.text', { page })}
				values={valuesOf}
				failed={say('letter.pages.failed')}
				opened={() => (opened = true)}
				press={mayFill ? press : undefined}
			/>{:else}<p class="p-4 text-(--half)">{say('letter.pages.loading')}</p>{/if}
		{#if opened}<div {@attach whenSeen} class="mt-2 h-px" aria-hidden="true"></div>{/if}
	</article>
{/if}
<p class="text-xs break-all text-(--half)">
	{#if letter.state !== 'sealed'}<a class="act-link" href={pdf} download>{say('letter.pdf')}</a> ·&nbsp;
	{/if}{say('letter.sha', { digest: letter.sha256 })}
</p>

{#if mayFill}
	{#if problem}<p class="notice-wrong mt-4" role="alert">{problem}</p>{/if}
	<form method="post" action="?/sign" class="mt-5 space-y-4" {@attach enhancedForm(handling)} {@attach kept.form(ANSWER)} bind:this={signing}>
		<PlaceFields
			{fields}
			bind:values
			{wrong}
			{locale}
			lead={say('letter.fill')}
			onlyIf={(label) => say('letter.fillIf', { label })}
			secret={say('letter.payment.kept')}
		/>
		<p class="text-sm text-(--half)" aria-live="polite">{shown ? say('letter.shownWhole') : say('letter.notShown')}</p>
		<div class="space-y-4" data-not-kept>
			<SignaturePlace {locale} personName={person.name} bind:name consent={say('letter.consent')} {alive} {wrong} last={lastMark} />
		</div>
		{#if mine.some(({ kind }) => !PLACES[kind].asks)}<p class="text-sm text-(--half)">{say('letter.place.bySelf')}</p>{/if}
		{#if !alive}<noscript
				><label class="flex items-start gap-3"
					><input type="checkbox" name="readWhole" value="yes" required class="mt-1 h-5 w-5" /> {say('letter.saidRead')}</label
				></noscript
			>{/if}
		{#if alive && left.length > 0}<p class="text-sm" aria-live="polite">{say('letter.left', { count: left.length, label: left[0].label })}</p>{/if}
		<button class="act w-full" disabled={pending || (alive && !shown)}>{say('letter.sign')}</button>
	</form>
	{#if home !== null && onPaper}
		<div class="mt-2">
			<Unfold words={say('letter.paper.unfold')} open={item.papers.length > 0 && !own?.onPaperAt}>
				<div class="space-y-3 border-t border-(--rule-strong) pt-4">
					<p>{say('letter.paper.lead')}</p>
					<p><a class="act-link" href={pdf} target="_blank" rel="noopener">{say('letter.paper.print')}</a></p>
					<PaperUpload
						itemId={item.id}
						title={item.title}
						papers={item.papers}
						handsIn={false}
						{locale}
						{home}
						onProblem={(message) => (problem = message)}
					/>
					{#if item.papers.length > 0 && !own?.onPaperAt}
						<form method="post" action="?/sendPaper" {@attach enhancedForm(handling)}>
							<button class="act w-full" disabled={pending}>{say('letter.paper.send')}</button>
						</form>
					{/if}
					<p class="text-sm text-(--half)">{say('letter.paper.after')}</p>
				</div>
			</Unfold>
		</div>
	{/if}
	<div class="mt-2">
		<Unfold words={say('letter.decline')} open={refused?.act === 'decline' || Boolean(declineWords)}>
			{#snippet children(close)}
				<form
					method="post"
					action="?/decline"
					class="space-y-3 border-t border-(--rule-strong) pt-4"
					{@attach enhancedForm(handling)}
					{@attach kept.form('decline.')}
				>
					<label class="field"
						><span>{say('letter.declineLabel')}</span><textarea name="reason" rows="3" maxlength="1000" value={declineWords} required
						></textarea></label
					>
					<div class="flex gap-2">
						<button class="act-quiet" disabled={pending}>{say('letter.declineSend')}</button><button type="button" class="act-link" onclick={close}
							>{say('item.no.cancel')}</button
						>
					</div>
				</form>
			{/snippet}
		</Unfold>
	</div>
{/if}
