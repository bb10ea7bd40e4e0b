import type { IsoDate } from '../calendar/firm-calendar';
import type { ItemKind } from '../items/item-kinds';
import { isOpen, isSettled, type ItemState } from '../requests/item-states';
import type { ClientState } from './client-states';

interface AskedItem {
	kind: ItemKind;
	state: ItemState;
	dueOn: IsoDate | null;
}

const NUMBERS = ['no', 'one', 'two', 'three', 'four', 'five', 'six', 'seven', 'eight', 'nine', 'ten', 'eleven', 'twelve'];
const inWords = (n: number) => NUMBERS[n] ?? String(n);
const capital = (words: string) => words[0].toUpperCase() + words.slice(1);

/** What is missing as one says it; kinds that are not named are things. */
const NOUNS: Partial<Record<ItemKind, [one: string, many: string]>> = {
	paper: ['paper', 'papers'],
	question: ['answer', 'answers'],
	questionnaire: ['questionnaire', 'questionnaires'],
	letter: ['signature', 'signatures']
};

/** "two papers and one answer"; of more than two sorts, "five things". */
function missingInWords(items: readonly AskedItem[]): string {
	const counts = new Map<string, number>();
	for (const { kind } of items) {
		const noun = NOUNS[kind] ? kind : 'thing';
		counts.set(noun, (counts.get(noun) ?? 0) + 1);
	}
	const sorts = counts.size > 2 ? [['thing', items.length] as const] : [...counts];
	return sorts
		.map(([kind, n]) => {
			const [one, many] = NOUNS[kind as ItemKind] ?? ['thing', 'things'];
			return `${inWords(n)} ${n === 1 ? one : many}`;
		})
		.join(' and ');
}

/** Where the work with a client stands, in one sentence: what is late, what is still to come, what waits for the firm. */
export function whereWeAre(client: { state: ClientState; items: readonly AskedItem[] }, today: IsoDate): string {
	if (client.state === 'ended') return 'No longer a client.';
	if (client.state === 'locked') return 'Locked: nothing is asked for now.';
	if (client.items.length === 0) return 'Nothing has been asked yet.';
	const open = client.items.filter((item) => isOpen(item.state));
	const toLookAt = client.items.filter((item) => !isOpen(item.state) && !isSettled(item.state)).length;
	if (open.length === 0)
		return toLookAt === 0
			? 'Everything we asked for is in.'
			: `Everything is in; ${inWords(toLookAt)} ${toLookAt === 1 ? 'thing waits' : 'things wait'} for us to look at.`;
	const late = open.filter((item) => item.dueOn !== null && item.dueOn < today);
	const still = open.length - late.length;
	if (late.length === 0) return `${capital(missingInWords(open))} ${still === 1 ? 'is' : 'are'} still to come.`;
	const more = still === 0 ? '' : `, ${inWords(still)} more ${still === 1 ? 'is' : 'are'} still to come`;
	return `${capital(missingInWords(late))} ${late.length === 1 ? 'is' : 'are'} late${more}.`;
}
