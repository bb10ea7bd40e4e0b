<script lang="ts">
	import { onMount, tick } from 'svelte';
	import { invalidateAll } from '$app/navigation';
	import type { LetterDocument } from '$lib/core/letters/letter-document';
	import type { ItemRow } from '$lib/server/items/read-items';
	import { dateWords, dayOf } from '$lib/words/dates';
	import { sayer } from '$lib/words/words';
	import { enhancedForm } from '../forms/enhanced-form';
	import LetterText from './LetterText.svelte';
	import SignaturePlace from './SignaturePlace.svelte';
	import type { TypedKeeper } from '../portal/keep-typed.svelte';
	import Unfold from '../portal/Unfold.svelte';

	let {
		item,
		document,
		locale,
		brand,
		home,
		personName,
		maySign,
		kept,
		refused,
		declineWords
	}: {
		item: Omit<ItemRow, 'nextChaseOn'>;
		document: LetterDocument;
		locale: string;
		brand: { name: string; timeZone: string };
		home: string;
		personName: string;
		maySign: boolean;
		/** keeps what is typed */ kept: TypedKeeper;
		/** what was wrong, where no scripts run */ refused: { act: string; message: string } | null;
		/** what was typed of a reason not to sign */ declineWords: string;
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
	const day = (at: string) => dateWords(locale, dayOf(at, brand.timeZone), 'long');
	const handling = {
		onPending: (p: boolean) => (pending = p),
		onProblem: (p: { message: string }) => (problem = p.message),
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
	<a class="act mt-3 w-full" href="{home}/letters/{item.id}" download>{say('letter.download')}</a>
{:else if letter.state === 'signed'}<p class="notice-lamp mt-4" role="status" tabindex="-1" bind:this={notice}>
		{say('letter.signed', { date: day(item.stateAt), firm: brand.name })}
	</p>
{:else if letter.state === 'declined'}<p class="notice-lamp mt-4">
		{say('item.state.declined', { date: day(item.stateAt), reason: item.reason ?? '' })}
	</p>
{:else if letter.state === 'withdrawn'}<p class="notice-lamp mt-4">{say('item.state.waived', { firm: brand.name })}</p>
{:else if !maySign && item.contactName}<p class="notice-lamp mt-4">{say('letter.other', { name: item.contactName })}</p>
{:else}<p class="mt-3 text-(--half)">{say('letter.read')}</p>{/if}

<article class="mt-4 border border-(--rule-strong) bg-[#fffefb] px-5 py-6 sm:px-9" aria-label={item.title}>
	<p class="serif text-xl font-semibold text-(--act)">{brand.name}</p>
	<div class="mt-4"><LetterText {document} /></div>
	<div {@attach whenSeen} class="mt-2 h-px" aria-hidden="true"></div>
</article>
<p class="text-xs break-all text-(--half)">
	{#if letter.state !== 'sealed'}<a class="act-link" href="{home}/letters/{item.id}" download>{say('letter.pdf')}</a> ·&nbsp;
	{/if}{say('letter.sha', { digest: letter.sha256 })}
</p>

{#if letter.state === 'sent' && maySign}
	{#if problem}<p class="notice-wrong mt-4" role="alert">{problem}</p>{/if}
	<form method="post" action="?/sign" class="mt-5 space-y-4" {@attach enhancedForm(handling)}>
		<p class="text-sm text-(--half)" aria-live="polite">{shown ? say('letter.shownWhole') : say('letter.notShown')}</p>
		<SignaturePlace {locale} {personName} consent={say('letter.consent')} {alive} />
		{#if !alive}<noscript
				><label class="flex items-start gap-3"
					><input type="checkbox" name="readWhole" value="yes" required class="mt-1 h-5 w-5" /> {say('letter.saidRead')}</label
				></noscript
			>{/if}
		<button class="act w-full" disabled={pending || (alive && !shown)}>{say('letter.sign')}</button>
	</form>
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
