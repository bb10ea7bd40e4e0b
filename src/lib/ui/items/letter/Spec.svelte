<script lang="ts">
	import { tick } from 'svelte';
	import { DOCUMENTS_MOST, isOfFiles, LETTER_TITLE, type LetterSigning } from '$lib/core/items/kinds/letter';
	import { LAPSE_DAYS, LAPSE_NOTICE_DAYS } from '$lib/core/signing/letter-states';
	import { partiesOf } from '$lib/core/signing/find-places';
	import { firmFacts } from '$lib/core/facts/fact-definition';
	import { factsForLetters, letterFields } from '$lib/core/letters/merge-fields';
	import { closeRanks, usualSigners, type Signer } from '$lib/core/signing/signers';
	import { addAttachment } from '../../asking/add-attachment';
	import { hasFees } from '$lib/core/letters/fees';
	import LetterFees from '../../letters/LetterFees.svelte';
	import ChoosePdf from '../../letters/ChoosePdf.svelte';
	import LetterEditor from '../../letters/LetterEditor.svelte';
	import TextChangesShown from '../../letters/TextChanges.svelte';
	import { carriedWords } from '$lib/core/signing/carry-places';
	import type { TextChanges } from '$lib/core/signing/changes';
	import type { NewEdition } from '$lib/server/platform/pdf/new-edition';
	import PlacePages from '../../letters/PlacePages.svelte';
	import SignerOrder from '../../letters/SignerOrder.svelte';
	import type { AttachmentRow } from '$lib/server/attachments/attachments';
	import type { DocumentSurvey } from '$lib/server/platform/pdf/survey-document';
	import type { SpecProps } from '../spec';

	let { line = $bindable(), place }: SpecProps<'letter'> = $props();
	const signing = $derived(line.spec.signing ?? null);
	/** what a place can be called so that it comes filled in */
	const knownLabels = (facts: typeof place.facts) => [...new Set(['Company', 'Phone', ...factsForLetters(facts).map(({ label }) => label)])];
	let busy = $state(false);
	let problem = $state('');
	let placing = $state(false);
	/** one of the client's papers is looked for */
	let choosing = $state(false);
	let chooser = $state<HTMLButtonElement>();
	let opener = $state<HTMLButtonElement>();
	/** what was found on the pages of each document */
	let surveys = $state<Record<string, DocumentSurvey>>({});
	const wantsFile = $derived(isOfFiles(signing));

	/** what was there before its words were to be written here: changing one's mind loses nothing */
	let put: Pick<LetterSigning, 'documents' | 'places'> | null = null;
	const begun = (): LetterSigning => signing ?? { documents: [], signers: usualSigners(), places: [] };
	const set = (more: Partial<LetterSigning>) => (line.spec = { ...line.spec, signing: { ...begun(), ...more } });

	async function survey(id: string): Promise<DocumentSurvey | null> {
		if (surveys[id]) return surveys[id];
		const answer = await fetch(`/desk/attachments/${id}/survey`).catch(() => null);
		const body = answer && ((await answer.json().catch(() => null)) as (DocumentSurvey & { message?: string }) | null);
		if (!answer?.ok || !body) {
			problem = body?.message ?? 'The pages could not be read. Please try again.';
			return null;
		}
		surveys[id] = body;
		return body;
	}
	async function add(input: HTMLInputElement) {
		problem = '';
		busy = true;
		for (const file of input.files ?? []) {
			const body = await addAttachment(file);
			if (typeof body === 'string') {
				problem = body;
				break;
			}
			if (!(await take(body))) break;
		}
		busy = false;
		input.value = '';
	}
	/** What a letter is called by its file. */
	const titleOf = (name: string) => name.replace(/\.pdf$/i, '').slice(0, 160);
	/** @returns whether it can be signed with the others */
	async function take({ id, name }: AttachmentRow): Promise<boolean> {
		const seen = await survey(id);
		if (!seen) return false;
		const { documents } = begun();
		if (documents.length >= DOCUMENTS_MOST) {
			problem = `At most ${DOCUMENTS_MOST} documents are signed as one.`;
			return false;
		}
		set({ documents: [...documents, { id, name, pages: seen.pages }] });
		if (line.title === LETTER_TITLE || line.title === '') line.title = titleOf(name);
		return true;
	}
	/** One of the client's papers, a copy of which was taken. */
	async function takePaper(file: AttachmentRow) {
		problem = '';
		choosing = false;
		busy = true;
		await take(file);
		busy = false;
		await tick();
		chooser?.focus();
	}
	/** what became of the places when a document was last exchanged for its new edition, and how it was before */
	let exchanged = $state<{ name: string; from: string; words: string; changes: TextChanges; before: LetterSigning; title: string } | null>(null);
	let exchangedWords = $state<HTMLElement>();
	/** A new edition in the place of a document: the places on it go with the words around them. */
	async function exchange(at: number, input: HTMLInputElement) {
		const file = input.files?.[0];
		if (!file) return;
		problem = '';
		busy = true;
		const added = await addAttachment(file);
		const edition = typeof added === 'string' ? added : await compare(at, added.id);
		busy = false;
		input.value = '';
		if (typeof added === 'string' || typeof edition === 'string') {
			problem = String(edition);
			return;
		}
		const before = begun();
		const { carried, changes, pages, found } = edition;
		surveys[added.id] = { pages, found };
		const on = before.places.filter(({ document }) => document === at);
		exchanged = { name: added.name, from: before.documents[at].name, words: carriedWords(carried), changes, before, title: line.title };
		if (line.title === titleOf(exchanged.from)) line.title = titleOf(added.name);
		set({
			documents: before.documents.map((one, index) => (index === at ? { id: added.id, name: added.name, pages } : one)),
			places: before.places.map((one) => {
				const now = carried[on.indexOf(one)];
				return now ? { ...one, page: now.page, x: now.x, y: now.y } : one;
			})
		});
		await tick();
		exchangedWords?.focus();
	}
	/** @returns the new edition, or what was wrong */
	async function compare(at: number, after: string): Promise<NewEdition | string> {
		const { documents, places } = begun();
		const body = new FormData();
		body.set('after', after);
		body.set('places', JSON.stringify(places.filter(({ document }) => document === at)));
		const answer = await fetch(`/desk/attachments/${documents[at].id}/edition`, { method: 'POST', body }).catch(() => null);
		const said = answer && ((await answer.json().catch(() => null)) as (NewEdition & { message?: string }) | null);
		return answer?.ok && said ? said : (said?.message ?? 'The new edition could not be compared. Please try again.');
	}
	function undoExchange() {
		if (exchanged) {
			line.spec = { ...line.spec, signing: exchanged.before };
			line.title = exchanged.title;
		}
		exchanged = null;
	}
	function remove(at: number) {
		exchanged = null;
		const { documents, places } = begun();
		set({
			documents: documents.filter((_, index) => index !== at),
			places: places.filter((one) => one.document !== at).map((one) => (one.document > at ? { ...one, document: one.document - 1 } : one))
		});
	}
	async function openPages() {
		problem = '';
		busy = true;
		for (const { id } of begun().documents) if (!(await survey(id))) break;
		busy = false;
		if (problem === '') placing = true;
	}
	const pagesWords = (n: number) => (n === 1 ? 'one page' : `${n} pages`);
	const found = $derived((signing?.documents ?? []).flatMap(({ id }, document) => (surveys[id]?.found ?? []).map((one) => ({ ...one, document }))));
	/** Everything that was found on the pages, given to the signers in their order. */
	function takeFound() {
		const signers = closeRanks(begun().signers).filter(({ does }) => does === 'signs');
		const parties = partiesOf(found, signers.length);
		set({
			places: found.map((one, at) => ({
				...one,
				id: crypto.randomUUID().slice(0, 12),
				of: signers[parties[at]]?.key ?? signers[0].key,
				required: one.kind !== 'tick',
				help: '',
				onlyIf: null
			}))
		});
	}
</script>

<div class="mb-2 flex flex-wrap gap-x-5 gap-y-1 text-sm" role="radiogroup" aria-label="What is signed">
	<label class="flex items-center gap-2"
		><input
			type="radio"
			name="source {line.key}"
			checked={!wantsFile}
			onchange={() => {
				if (!signing) return;
				put = { documents: signing.documents, places: signing.places };
				set({ ofFiles: false, documents: [], places: [] });
			}}
		/> words written here</label
	>
	<label class="flex items-center gap-2"
		><input
			type="radio"
			name="source {line.key}"
			checked={wantsFile}
			onchange={() => {
				set({ ofFiles: true, ...put });
			}}
		/> a PDF of yours</label
	>
</div>
{#if wantsFile}
	<div class="border border-(--rule-strong) bg-(--sheet) px-4 py-3">
		<ol class="space-y-1">
			{#each signing?.documents ?? [] as document, at (document.id)}
				<li class="flex flex-wrap items-baseline gap-x-3">
					<a class="act-link" href="/desk/attachments/{document.id}" target="_blank" rel="noopener">{document.name}</a>
					<span class="text-sm text-(--half)">{pagesWords(document.pages.length)}</span>
					<label class="act-link relative cursor-pointer text-sm"
						>new edition …
						<input
							type="file"
							accept="application/pdf,.pdf"
							aria-label="A new edition of {document.name}"
							class="absolute inset-0 cursor-pointer opacity-0"
							disabled={busy}
							onchange={(event) => exchange(at, event.currentTarget)}
						/></label
					>
					<button type="button" class="act-link text-sm" aria-label="Take {document.name} out" onclick={() => remove(at)}>take out</button>
				</li>
			{/each}
		</ol>
		<p class="flex flex-wrap items-baseline gap-x-4 gap-y-1 text-sm">
			<label class="act-link relative cursor-pointer"
				>{busy ? 'Reading …' : signing?.documents.length ? 'Add another PDF' : 'Add the PDF that is signed'}
				<input
					type="file"
					multiple
					accept="application/pdf,.pdf"
					class="absolute inset-0 cursor-pointer opacity-0"
					disabled={busy}
					onchange={(event) => add(event.currentTarget)}
				/></label
			>
			{#if place.signing.clientId}<button
					type="button"
					class="act-link"
					aria-expanded={choosing}
					disabled={busy}
					bind:this={chooser}
					onclick={() => (choosing = !choosing)}>Take one of their papers …</button
				>{/if}
			{#if signing?.documents.length}
				<button type="button" class="act-quiet" disabled={busy} bind:this={opener} onclick={openPages}
					>{signing.places.length > 0 ? `Places on the pages: ${signing.places.length} …` : 'Put places on the pages …'}</button
				>
				{#if signing.places.length === 0}
					<span class="text-(--half)">Without places, a page for the signatures is added by itself.</span>
					{#if found.length > 0}<button type="button" class="act-link" onclick={takeFound}
							>Take over the {found.length === 1 ? 'place' : `${found.length} places`} found in the text</button
						>{/if}
				{/if}
			{/if}
		</p>
		{#if choosing && place.signing.clientId}<ChoosePdf clientId={place.signing.clientId} timeZone={place.timeZone} taken={takePaper} />{/if}
		{#if problem}<p class="field-problem mt-1" role="alert">{problem}</p>{/if}
		{#if exchanged}
			<div class="notice-lamp mt-2" role="status" tabindex="-1" bind:this={exchangedWords}>
				<p>
					{exchanged.name} instead of {exchanged.from}. {exchanged.words}
					<button type="button" class="act-link" onclick={undoExchange}>Undo</button>
				</p>
				<details class="mt-1 text-sm">
					<summary class="cursor-pointer">What it says otherwise</summary>
					<div class="mt-2 max-h-60 overflow-auto"><TextChangesShown changes={exchanged.changes} locale="en" /></div>
				</details>
			</div>
		{/if}
	</div>
{:else if line.document}<LetterEditor
		bind:document={line.document}
		label="Words of {line.title}"
		fields={letterFields(place.facts)}
		services={[...place.services]}
		facts={firmFacts(place.facts)}
	/>
	{#if hasFees(line.document)}<LetterFees
			title={line.title}
			bind:fees={() => line.spec.fees ?? null, (fees) => (line.spec = { ...line.spec, fees })}
			ofRecord={place.fees}
			currency={place.currency}
		/>{/if}{/if}
<section class="mt-3" aria-label="Who signs {line.title}">
	<h4 class="serif mb-0.5 text-lg font-semibold">In this order</h4>
	<SignerOrder
		bind:signers={() => begun().signers, (signers: Signer[]) => set({ signers })}
		people={place.signing}
		placed={signing && signing.places.length > 0 ? signing.places.map(({ of }) => of) : null}
	/>
	<p class="mt-1 text-sm"><a class="act-link" href="/desk/library/about-signing" target="_blank" rel="noopener">What a signature made here is</a></p>
	<label class="mt-2 flex flex-wrap items-baseline gap-x-2 text-sm"
		>It can be signed for
		<input
			class="line-input !w-16 !py-0.5 text-right"
			type="number"
			min={LAPSE_DAYS.least}
			max={LAPSE_DAYS.most}
			placeholder="–"
			bind:value={() => signing?.lapseDays ?? null, (lapseDays) => set({ lapseDays: lapseDays ?? null })}
		/>
		days.
		<span class="text-(--half)"
			>{signing?.lapseDays
				? `After that it lapses; who has not signed is told within the last ${LAPSE_NOTICE_DAYS} days. It never lapses before it is due.`
				: 'Left empty, it waits as long as it takes.'}</span
		></label
	>
</section>
{#if placing && signing}
	<PlacePages
		title={line.title}
		documents={signing.documents}
		{found}
		people={place.signing}
		known={knownLabels(place.facts)}
		bind:signers={() => begun().signers, (signers: Signer[]) => set({ signers })}
		bind:places={() => begun().places, (places) => set({ places })}
		close={async () => {
			placing = false;
			// what is behind it takes no focus until it is gone
			await tick();
			opener?.focus();
		}}
	/>
{/if}
