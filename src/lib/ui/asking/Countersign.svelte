<script lang="ts">
	import { invalidateAll } from '$app/navigation';
	import { fieldsOf, PLACES, type Place } from '$lib/core/signing/places';
	import type { ItemRow, LetterPages as Pages } from '$lib/server/items/read-items';
	import { enhancedForm, type FormHandling } from '../forms/enhanced-form';
	import LetterPages from '../letters/LetterPages.svelte';
	import { DESK_ACCOUNT } from '../letters/desk-account';
	import LetterText from '../letters/LetterText.svelte';
	import { placeContent } from '../letters/place-content';
	import PlaceFields from '../letters/PlaceFields.svelte';

	/** Signing for the firm: an act of its own, with the letter before one's eyes and its name on the button. */
	let {
		item,
		pages,
		person,
		timeZone,
		now,
		handling,
		pending,
		close
	}: {
		item: ItemRow;
		pages: Pages;
		person: { id: string; name: string; email: string };
		timeZone: string;
		/** instant */ now: string;
		handling: FormHandling;
		pending: boolean;
		close: () => void;
	} = $props();
	let problem = $state('');
	let wrong = $state<Record<string, string>>({});
	let letter = $state<HTMLElement>();
	let values = $state<Record<string, string>>({});
	const opened = (dialog: HTMLDialogElement) => {
		dialog.showModal();
		// what is read comes first: a key pressed in a run signs nothing
		letter?.focus();
	};
	const signers = $derived(item.letter!.signers);
	const ours = $derived(signers.filter(({ side, copy, state }) => side === 'firm' && !copy && state !== 'signed'));
	const own = $derived(ours.find(({ staffId }) => staffId === person.id) ?? ours.find(({ staffId }) => staffId === null) ?? ours[0]);
	/** somebody else is named to sign it */
	const named = $derived(own && own.staffId !== null && own.staffId !== person.id ? own.name : null);
	const fields = $derived(own ? fieldsOf(pages.places, own.key) : []);
	const others = $derived(signers.filter(({ copy, state, key }) => !copy && state !== 'signed' && key !== own?.key));
	const signed = $derived(signers.filter(({ state, side }) => state === 'signed' && side === 'client').map(({ name }) => name));
	function content(place: Place): string {
		const done = pages.signed[place.of];
		const ours = place.of === own?.key ? { name: person.name, at: now, filled: values, email: person.email, signed: false } : null;
		return placeContent(place, done ? { ...done, signed: true } : ours, 'en', timeZone);
	}
</script>

<dialog class="sheet-dialog signing" aria-labelledby="countersign-title" {@attach opened} onclose={close}>
	<h2 id="countersign-title" class="text-xl">Countersign “{item.title}”</h2>
	<p class="mt-1 text-sm text-(--half)">
		For {item.clientName}, signed by {signed.length > 0 ? new Intl.ListFormat('en').format(signed) : item.contactName}.
		{others.length > 0
			? `Then ${new Intl.ListFormat('en').format(others.map(({ name }) => name))} ${others.length > 1 ? 'sign' : 'signs'}.`
			: 'With your signature it is sealed, and everybody who signed gets it.'} This cannot be undone.
	</p>
	<!-- a part that scrolls is reached by the keyboard -->
	<!-- svelte-ignore a11y_no_noninteractive_tabindex -->
	<div
		class="mt-3 max-h-[50vh] overflow-auto border border-(--rule-strong) bg-(--sheet) {pages.document ? 'px-5 py-3' : 'p-2'}"
		role="region"
		aria-label="The letter"
		tabindex="0"
		bind:this={letter}
	>
		{#if pages.document}<LetterText document={pages.document} account={DESK_ACCOUNT} />
		{:else}<LetterPages
				src="/desk/letters/{item.id}?pages"
				name={item.title}
				most={item.letter!.pages}
				places={pages.places}
				own={own?.key ?? null}
				{content}
				whose={(place) => signers.find(({ key }) => key === place.of)?.name ?? ''}
				kindWords={(place) => place.label || PLACES[place.kind].words}
				pageWords={(page, count) => `Page ${page} of ${count}`}
				textWords={(page) => `Text of page ${page}`}
				values={(key) => (key === own?.key ? values : (pages.signed[key]?.filled ?? {}))}
				failed="The pages could not be shown here. Download the PDF and read it before you sign."
			/>{/if}
	</div>
	{#if problem}<p class="notice-wrong mt-3" role="alert">{problem}</p>{/if}
	{#if named}
		<form
			method="post"
			action="/desk/items/{item.id}?/takeOver"
			class="mt-4"
			{@attach enhancedForm({ onPending: handling.onPending, onProblem: (p) => (problem = p.message), onSuccess: () => invalidateAll() })}
		>
			<input type="hidden" name="version" value={item.version} />
			<p class="notice-lamp">{named} is named to sign this. If they are away you can take it over; the history and the certificate say so.</p>
			<div class="mt-3 flex flex-wrap gap-2">
				<button class="act" disabled={pending}>Take it over from {named}</button>
				<button type="button" class="act-quiet ml-auto" onclick={close}>Not now</button>
			</div>
		</form>
	{:else}
		<form
			method="post"
			action="/desk/items/{item.id}?/countersign"
			class="mt-4 space-y-4"
			{@attach enhancedForm({
				...handling,
				onProblem: (p) => {
					problem = p.message;
					wrong = p.fields;
				}
			})}
		>
			<input type="hidden" name="version" value={item.version} />
			<input type="hidden" name="sha256" value={item.letter!.sha256} />
			<input type="hidden" name="signer" value={own?.key ?? ''} />
			<PlaceFields {fields} bind:values {wrong} locale="en" lead="What you fill in on its pages" onlyIf={(label) => `only if “${label}” is ticked`} />
			<div class="flex flex-wrap gap-2">
				<button class="act" disabled={pending}>{pending ? 'Signing …' : `Sign “${item.title}” as ${person.name}`}</button>
				<button type="button" class="act-quiet ml-auto" onclick={close}>Not now</button>
			</div>
		</form>
	{/if}
</dialog>

<style>
	.signing {
		width: min(46rem, calc(100vw - 2rem));
	}
</style>
