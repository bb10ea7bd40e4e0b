import { LETTER_TITLE } from '$lib/core/items/kinds/letter';
import { tick } from 'svelte';
import { beforeNavigate } from '$app/navigation';
import type { ItemKind } from '$lib/core/items/item-kinds';
import type { LetterDocument } from '$lib/core/letters/letter-document';
import { keyOfWrongLine, LINES_MAX, linesOfText, newLine, type LineInHand } from '$lib/core/requests/request-list';
import type { AttachmentRow } from '$lib/server/attachments/attachments';
import type { FormHandling } from '../forms/enhanced-form';

/** The lines that somebody is writing, for a client, for the Library or to repeat, and what was wrong when they were last sent. */
export class ListInHand {
	lines = $state<LineInHand[]>([]);
	files = $state<Record<string, AttachmentRow>>({});
	/** key of the line whose fields are shown */
	open = $state<string | null>(null);
	problem = $state('');
	fields = $state<Record<string, string>>({});
	pending = $state(false);
	/** the lines that are sent */
	readonly going = $derived(this.lines.filter((line) => !line.out));
	/** key of the line that the refusal is about: the server counts the lines that were sent */
	readonly wrong = $derived(keyOfWrongLine(this.fields, this.going));

	constructor(lines: LineInHand[], files: Record<string, AttachmentRow>) {
		this.lines = lines;
		this.files = { ...files };
	}

	/** A new line stands under the heading of the last one, and is due as it is. */
	#likeLast(dueOn: string): Pick<LineInHand, 'heading' | 'due' | 'dueOn'> {
		const last = this.lines.at(-1);
		return {
			heading: last?.heading ?? '',
			due: last?.due ?? { from: 'asked', offset: 8, unit: 'business_days', roll: 'none' },
			dueOn: last?.dueOn || dueOn
		};
	}

	/**
	 * Adds a line, opens it and puts the focus into its title.
	 * @param dueOn due date if there is no line before it
	 * @param letter the words that a new letter begins with
	 */
	async add(kind: ItemKind, dueOn: string, letter: LetterDocument): Promise<void> {
		const key = crypto.randomUUID();
		this.lines.push(
			newLine({
				key,
				kind,
				...this.#likeLast(dueOn),
				title: kind === 'letter' ? LETTER_TITLE : '',
				document: kind === 'letter' ? structuredClone($state.snapshot(letter) as LetterDocument) : null
			})
		);
		this.open = key;
		await tick();
		document.getElementById(`title-${key}`)?.focus();
	}

	/** Adds the lines of a pasted text, as many as a list takes, and returns how many they are. */
	paste(text: string, dueOn: string): number {
		const found = linesOfText(text).slice(0, LINES_MAX - this.lines.length);
		const last = this.#likeLast(dueOn);
		for (const { heading, title } of found)
			this.lines.push(
				newLine({
					...last,
					key: crypto.randomUUID(),
					kind: title.endsWith('?') ? 'question' : 'paper',
					heading: heading || last.heading,
					title
				})
			);
		return found.length;
	}

	/** How the form that sends the list reports back. A refusal opens the line that it is about. */
	form(onSuccess?: () => void): FormHandling {
		return {
			onPending: (pending) => (this.pending = pending),
			onProblem: (problem) => {
				this.problem = problem.message;
				this.fields = problem.fields;
				if (this.wrong) this.open = this.wrong;
			},
			onSuccess: () => {
				this.problem = '';
				this.fields = {};
				onSuccess?.();
			}
		};
	}
}

/** Asks before the page is left with changes that are not saved. Called while a component is set up. */
export function askBeforeLeaving(unsaved: () => boolean, words: string): void {
	beforeNavigate((navigation) => {
		const { from, to, willUnload } = navigation;
		// another view of the same page takes nothing away
		const stays = !willUnload && from?.url.pathname === to?.url.pathname;
		if (!unsaved() || stays) return;
		if (willUnload || !confirm(words)) navigation.cancel();
	});
}
