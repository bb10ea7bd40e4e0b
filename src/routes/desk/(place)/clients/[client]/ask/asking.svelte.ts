import { untrack } from 'svelte';
import { beforeNavigate, goto, invalidateAll, replaceState } from '$app/navigation';
import { page } from '$app/state';
import { firmFacts, type FactDefinition } from '$lib/core/facts/fact-definition';
import { answerOfFact } from '$lib/core/items/questions';
import { isWritten } from '$lib/core/items/kinds/letter';
import { mergeFieldsOf, type LetterDocument } from '$lib/core/letters/letter-document';
import { AUTOMATIC_FIELDS, unfilledFields } from '$lib/core/letters/merge-fields';
import { factsOfCondition } from '$lib/core/requests/conditions';
import { wayOfContact } from '$lib/core/signing/signers';
import { askedAlready } from '$lib/core/requests/asked-already';
import { letterAsItComes } from '$lib/core/requests/letter-as-it-comes';
import { asRequestLine, newLine, statementLine, type DraftContent, type LineInHand } from '$lib/core/requests/request-list';
import { ListInHand } from '$lib/ui/asking/list-in-hand.svelte';
import { askDesk } from '$lib/ui/desk/ask-desk';
import type { PageData } from './$types';

/** A request that is being written for a client: its lines, to whom and how it goes, and the draft that is kept of it. */
export class Asking extends ListInHand {
	readonly #data: () => PageData;
	/** the list of the Library that it began with */
	readonly list: { id: string; version: number } | null;
	readonly listName: string | null;
	readonly draftId: string;

	/** false while the list to begin with is still to be chosen */
	writing = $state(false);
	title = $state('');
	contactId = $state('');
	message = $state('');
	others = $state<string[]>([]);
	each = $state(false);
	quiet = $state(false);
	tellNow = $state(false);
	chasePlan = $state('');
	withInvitation = $state(true);
	/** the letters go alone, and the rest once they are signed by all */
	lettersFirst = $state(false);
	/** the letters that all have to sign before it goes; none: it goes now */
	after = $state<string[]>([]);
	letterValues = $state<Record<string, string>>({});
	/** version of the draft, null before it is kept */
	version = $state<number | null>(null);
	/** what is said of the draft */
	keptWords = $state('');
	#leaving = false;
	#lastKept = '';
	#keeping: Promise<void> | null = null;

	readonly contact = $derived.by(() => this.#data().client.contacts.find((c) => c.id === this.contactId)!);
	readonly told = $derived.by(() => [this.contact, ...this.#data().client.contacts.filter((c) => this.others.includes(c.id))]);
	/** of those who are told and have no access yet, who needs none for what goes now: they sign by a link of their own */
	readonly byLink = $derived.by(() => {
		const now = this.letters > 0 && this.lettersFirst ? this.going.filter(({ kind }) => kind === 'letter') : this.going;
		const { signing } = this.#data().place;
		return this.told.filter(
			(c) =>
				!c.hasAccess &&
				now.length > 0 &&
				now.every(
					(line) => line.kind === 'letter' && (wayOfContact(line.spec.signing?.signers ?? [], c.id, this.contactId, signing) ?? 'portal') !== 'portal'
				)
		);
	});
	/** of those who are told, who has no access yet and needs it */
	readonly without = $derived.by(() => this.told.filter((c) => !c.hasAccess && !this.byLink.includes(c)));
	/** of those who are told, who was told of something today already */
	readonly already = $derived.by(() => this.told.filter((c) => this.#data().toldToday.includes(c.id)));
	/** lines that would ask for something that is open with them already */
	readonly twice = $derived.by(() =>
		this.going.flatMap((line) => {
			const thing = askedAlready(line, this.#data().openNow);
			return thing ? [{ line, thing }] : [];
		})
	);
	/** how many of its lines are letters, where others stand beside them */
	readonly letters = $derived.by(() => {
		const count = this.going.filter((line) => line.kind === 'letter').length;
		return count < this.going.length ? count : 0;
	});
	/** letters that were sent and are not signed by all yet, for which this can wait */
	readonly awaited = $derived.by(() => (this.going.some((line) => line.kind === 'letter') ? [] : this.#data().openLetters));
	/** the letters that it waits for; none if it goes now */
	readonly waitsFor = $derived.by(() => this.awaited.filter(({ id }) => this.after.includes(id)));
	/** facts that lines depend on and nobody knows */
	readonly missing = $derived([...new Set(this.going.flatMap((line) => line.missing))]);
	/** facts that decide lines of this list, known or not */
	readonly deciding = $derived.by(() => {
		const facts = firmFacts(this.#data().place.facts);
		const definitions = new Set(this.lines.flatMap((line) => factsOfCondition(line.condition)).flatMap((name) => facts.get(name) ?? []));
		return [...definitions].map((definition) => ({
			name: definition.name,
			definition,
			fact: this.#data().facts.find((fact) => fact.name === definition.name) ?? null
		}));
	});
	/** what stands in the letter's fields */
	readonly values = $derived.by(() => ({ ...this.letterValues, ...this.#data().values[this.contactId] }));
	/** the letter's fields that are filled in here */
	readonly letterFields = $derived(
		[...new Set(this.going.flatMap((line) => (line.document && isWritten(line) ? mergeFieldsOf(this.#asItComes(line.document)) : [])))].filter(
			(name) => !(AUTOMATIC_FIELDS as readonly string[]).includes(name)
		)
	);
	/** A letter without the parts that do not come for this client, as far as that is known here. */
	#asItComes(document: LetterDocument): LetterDocument {
		const { known, hidden, place } = this.#data();
		return known ? letterAsItComes(document, known, hidden, firmFacts(place.facts)) : document;
	}
	readonly unfilled = $derived(unfilledFields(this.letterFields, this.values));
	readonly #howItGoes = $derived({
		contactId: this.contactId,
		others: this.others,
		title: this.title,
		message: this.message,
		quiet: this.quiet,
		tellNow: this.tellNow,
		chasePlan: this.chasePlan || null
	});
	/** the request as it is sent */
	readonly payload = $derived.by(() =>
		JSON.stringify({
			...this.#howItGoes,
			each: this.each && this.others.length > 0,
			withInvitation: this.without.length > 0 && this.withInvitation,
			idempotencyKey: this.draftId,
			list: this.list,
			lines: this.going.map((line) => asRequestLine(line, this.letterValues))
		})
	);
	/** the draft as it is kept */
	readonly content = $derived.by(() =>
		JSON.stringify({
			...this.#howItGoes,
			each: this.each,
			withInvitation: this.withInvitation,
			lettersFirst: this.lettersFirst,
			values: this.letterValues,
			lines: this.lines
		})
	);

	/** Called while the page is set up: it keeps a draft of what is written, and once more when the page is left. */
	constructor(data: () => PageData) {
		const given = untrack(data);
		const kept = given.draft?.content as (Omit<DraftContent, 'lines'> & { lines: LineInHand[] }) | undefined;
		super(kept?.lines ?? given.begun?.lines ?? [], given.files);
		this.#data = data;
		const first = given.client.contacts.find((c) => c.hasAccess)?.id ?? given.client.contacts[0].id;
		this.writing = given.draft !== null || given.begun !== null;
		this.title = kept?.title ?? given.begun?.title ?? '';
		this.contactId = kept?.contactId && given.values[kept.contactId] ? kept.contactId : first;
		this.message = kept?.message || given.begun?.message || given.messages[first];
		this.others = kept?.others ?? [];
		this.each = kept?.each ?? false;
		this.quiet = kept?.quiet ?? false;
		this.tellNow = kept?.tellNow ?? false;
		this.chasePlan = kept?.chasePlan ?? '';
		this.withInvitation = kept?.withInvitation ?? true;
		this.lettersFirst = kept?.lettersFirst ?? given.begun?.lettersFirst ?? false;
		const open = new Set(given.openLetters.map(({ id }) => id));
		this.after = given.draft?.after.map(({ id }) => id).filter((id) => open.has(id)) ?? [];
		this.letterValues = { ...given.fromRecord, ...(kept?.values ?? {}) };
		this.list = given.draft
			? given.draft.listId
				? { id: given.draft.listId, version: given.draft.listVersion! }
				: null
			: (given.begun?.list ?? null);
		this.listName = given.draft?.listName ?? given.begun?.name ?? null;
		this.draftId = given.draft?.id ?? crypto.randomUUID();
		this.version = given.draft?.version ?? null;
		this.keptWords = given.draft ? 'Saved as a draft.' : '';
		// looking at a list makes no draft: it begins with the first change
		this.#lastKept = untrack(() => this.content);
		$effect(() => {
			if (!this.writing || this.content === this.#lastKept) return;
			this.keptWords = '';
			const timer = setTimeout(() => void this.#keep(), 1200);
			return () => clearTimeout(timer);
		});
		beforeNavigate((navigation) => {
			if (this.#leaving || !this.writing || this.pending || this.content === this.#lastKept || this.lines.length === 0) return;
			if (navigation.willUnload) return navigation.cancel();
			void this.#keep();
		});
	}

	async #keep(): Promise<void> {
		if (this.#keeping) await this.#keeping;
		const now = this.content;
		if (this.#leaving || this.pending || !this.writing || now === this.#lastKept || this.lines.length === 0) return;
		this.#keeping = (async () => {
			const answer = await askDesk<{ version: number }>(`${page.url.pathname}?/keep`, {
				draftId: this.draftId,
				version: this.version === null ? '' : String(this.version),
				list: JSON.stringify(this.list),
				content: now
			});
			if (answer) {
				this.version = answer.version;
				this.#lastKept = now;
				this.keptWords = 'Saved as a draft.';
				// it has its address from now on: loaded again, the page comes back with it
				if (page.url.searchParams.get('draft') !== this.draftId) replaceState(`?draft=${this.draftId}`, {});
			} else this.keptWords = 'Not saved: it did not reach us, or somebody else is working on it. Your words are still here.';
		})();
		await this.#keeping;
		this.#keeping = null;
	}

	/** Begins with an empty sheet. Without a change to its first line nothing is kept of it. */
	async fromScratch(): Promise<void> {
		this.writing = true;
		await this.add('paper', this.#data().inTen, this.#data().letter);
		this.#lastKept = this.content;
	}

	async dropDraft(): Promise<void> {
		this.#leaving = true;
		if (this.version !== null) await askDesk(`${page.url.pathname}?/drop`, { draftId: this.draftId });
		await goto(`/desk/clients/${this.#data().client.id}`, { invalidateAll: true });
	}

	/** Leaves out what is asked for already. */
	leaveOutTwice(): void {
		for (const { line, thing } of this.twice) {
			line.out = true;
			line.overridden = true;
			line.because = `left out: asked for already in “${thing.requestTitle}”`;
		}
	}

	/** The list as it fits now that more is known. Lines that a person decided stay as they are. */
	async fitAgain(): Promise<void> {
		await invalidateAll();
		const begun = this.#data().begun;
		for (const line of this.lines) {
			const fresh = begun?.lines.find((other) => other.key === line.key);
			if (!fresh || line.overridden) continue;
			line.out = fresh.out;
			line.because = fresh.because;
			line.missing = fresh.missing;
		}
	}

	/** Asks the client for a fact that lines depend on: its question first of all. */
	askThem({ name, label, is }: FactDefinition): void {
		const known = this.lines.find((line) => line.kind === 'question' && line.spec.fact === name);
		if (known) {
			known.out = false;
			known.required = true;
			this.open = known.key;
			return;
		}
		const answer = answerOfFact({ is });
		if (!answer) return;
		this.lines.unshift(
			newLine({
				key: crypto.randomUUID(),
				kind: 'question',
				heading: this.lines[0]?.heading ?? '',
				title: is.kind === 'yes_no' ? `${label}?` : label,
				why: 'What else we need from you depends on it.',
				acceptsItself: true,
				spec: { answer, fact: name },
				due: this.lines[0]?.due ?? { from: 'asked', offset: 5, unit: 'business_days', roll: 'none' },
				dueOn: this.lines[0]?.dueOn || this.#data().inTen
			})
		);
	}

	/** Keeps for this client that a line of the list is always left out, or always asked. */
	async remember(line: LineInHand): Promise<void> {
		if (!this.list) return;
		const done = await askDesk(`${page.url.pathname}?/remember`, {
			listId: this.list.id,
			lineKey: line.key,
			decision: line.out ? 'out' : 'in'
		});
		if (!done) return;
		line.overridden = false;
		line.because = 'you decided so for this client';
	}

	/** One line for each account and month, from `from` to `to` (YYYY-MM), whose statement was never asked for. */
	async addStatements(from: string, to: string): Promise<void> {
		const answer = await askDesk<{ statements: { title: string; heading: string; account: { id: string; from: string; to: string } }[] }>(
			`${page.url.pathname}?/spreadStatements`,
			{ from, to }
		);
		if (!answer) return void (this.problem = 'Choose a first and a last month, the first one earlier.');
		this.problem = answer.statements.length === 0 ? 'Every statement of that time was asked for already.' : '';
		for (const one of answer.statements) {
			if (this.lines.some((line) => line.account?.id === one.account.id && line.account.to === one.account.to)) continue;
			this.lines.push(statementLine(one, this.#data().inTen));
		}
	}
}
