/** The 95 % interval of a share after Wilson (1927): honest also where there are few. @param hits of all, @param all how many there were */
export function wilson(hits: number, all: number): { from: number; to: number } {
	if (all === 0) return { from: 0, to: 1 };
	const z = 1.959964;
	const share = hits / all;
	const middle = share + (z * z) / (2 * all);
	const spread = z * Math.sqrt((share * (1 - share)) / all + (z * z) / (4 * all * all));
	const whole = 1 + (z * z) / all;
	return { from: Math.max(0, (middle - spread) / whole), to: Math.min(1, (middle + spread) / whole) };
}

/** Fewer than this are too few to say which is better. */
export const FEW = 20;

/** Verbs of the history by which a person answers: something arrives, or they say something about it. */
export const ANSWERED = [
	'item_handed_in',
	'item_answered_no',
	'item_asked_for_time',
	'item_declined',
	'letter_signed',
	'answers_signed',
	'remark_written',
	'own_words_written'
] as const;
/** Those of them by which what was asked is handed in. */
export const HANDED_IN = ['item_handed_in', 'item_answered_no', 'letter_signed', 'answers_signed'] as const;
/** How many days after a reminder count, and as many before it. */
export const WITHIN_DAYS = 2;

/** What came of reminders of one kind. */
export interface Works {
	sent: number;
	/** came to their page within two days */
	came: number;
	answered: number;
	handedIn: number;
	/** stopped reminders, or text messages, within two days */
	stopped: number;
	/** how many of the same people answered in the two days before it, when nobody had reminded them */
	before: number;
}

/** A share in whole per cent, with the range in which it may as well lie: "41 % (31 to 51)". */
export function shareInWords(hits: number, all: number): string {
	if (all === 0) return '–';
	const { from, to } = wilson(hits, all);
	const percent = (share: number) => Math.round(share * 100);
	return `${percent(hits / all)} % (${percent(from)} to ${percent(to)})`;
}

/**
 * What the figures say, in a sentence or two: the step that is answered most, and whether that is more than without a reminder. Small numbers
 * are said to be small.
 */
export function worksInWords(steps: readonly (Works & { name: string })[]): string {
	const all = steps.reduce((sum, { sent }) => sum + sent, 0);
	if (all === 0) return 'No reminder has gone yet.';
	const enough = steps.filter(({ sent }) => sent >= FEW);
	if (enough.length === 0) return `${all === 1 ? 'One reminder has' : `${all} reminders have`} gone, too few of any kind to say which works best.`;
	const best = enough.reduce((one, other) => (other.answered / other.sent > one.answered / one.sent ? other : one));
	const { from } = wilson(best.answered, best.sent);
	const without = wilson(best.before, best.sent);
	const better = from > without.to ? 'clearly more than' : best.answered > best.before ? 'more than, though perhaps by chance,' : 'no more than';
	return `Answered most: ${best.name}, ${shareInWords(best.answered, best.sent)} within two days, of ${best.sent}. That is ${better} the ${shareInWords(best.before, best.sent)} who answered in the two days before it.`;
}
