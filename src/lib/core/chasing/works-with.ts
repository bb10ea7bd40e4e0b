import { WEEKDAYS } from './chase-plan';
import { wilson } from './what-works';

/** A reminder that one person got, and what came of it within two days. */
export interface Tried {
	/** on the clocks of the firm: Monday is 1 */ weekday: number;
	/** from 0 */ hour: number;
	way: 'email' | 'text';
	/** they came to their page */ came: boolean;
	answered: boolean;
}

/** How a reminder went, in words. */
export const WAY_WORDS = { email: 'by e-mail', text: 'by text message' } as const;
/** Fewer than this of one person say nothing. */
const ENOUGH = 3;

/** What a reminder can have in common with others, in words; the plainest first. */
const traitsOf = ({ way, weekday, hour }: Tried): string[] => {
	const [by, on, when] = [WAY_WORDS[way], `on ${WEEKDAYS[weekday - 1]}s`, hour < 12 ? 'before noon' : 'after noon'];
	return [by, on, when, `${by} ${on}`, `${by} ${when}`];
};

/** The reminders that have something in common, and those that have not. */
interface Group {
	trait: string;
	sent: number;
	answered: number;
	rest: { sent: number; answered: number };
}

/** What stands out among the reminders of one person: answered more often than the others; null if nothing does. */
function bestOf(tried: readonly Tried[]): Group | null {
	const answered = tried.filter((one) => one.answered).length;
	const groups = new Map<string, Group>();
	for (const one of tried)
		for (const trait of traitsOf(one)) {
			const group = groups.get(trait) ?? { trait, sent: 0, answered: 0, rest: { sent: tried.length, answered } };
			group.sent += 1;
			group.rest.sent -= 1;
			if (one.answered) {
				group.answered += 1;
				group.rest.answered -= 1;
			}
			groups.set(trait, group);
		}
	const standing = [...groups.values()].filter(
		({ sent, answered: of, rest }) => sent >= ENOUGH && of >= 2 && rest.sent >= ENOUGH && of / sent > rest.answered / rest.sent
	);
	// among equals the plainest, which came first
	return standing.reduce<Group | null>(
		(best, group) => (best && wilson(best.answered, best.sent).from >= wilson(group.answered, group.sent).from ? best : group),
		null
	);
}

/** Whether a day or a way stands out, so that something can be proposed. */
export const standsOut = (tried: readonly Tried[]): boolean => bestOf(tried) !== null;

/**
 * What works with one person, as far as their reminders of the last year tell, in a sentence or two. It says so where it may be chance, and
 * proposes nothing where nothing stands out.
 * @param first their first name
 */
export function worksWithInWords(first: string, tried: readonly Tried[]): string {
	if (tried.length === 0) return `No reminder of the last year tells yet what works with ${first}.`;
	const answered = tried.filter((one) => one.answered).length;
	const came = tried.filter((one) => one.came).length;
	if (answered === 0) {
		const none = tried.length === 1 ? 'The one reminder of the last year was not' : `None of the ${tried.length} reminders of the last year was`;
		return `${none} answered within two days${came > 0 ? `, though ${first} came to the page after ${came === tried.length ? 'each' : `${came}`} of them` : ''}. Another way may help: a call.`;
	}
	if (tried.length === 1) return 'The one reminder of the last year was answered within two days.';
	const best = bestOf(tried);
	if (!best)
		return `${answered === tried.length ? `All ${answered}` : `${answered} of ${tried.length}`} reminders of the last year ${answered === 1 ? 'was' : 'were'} answered within two days; no day or way stands out.`;
	const chance = wilson(best.answered, best.sent).from <= wilson(best.rest.answered, best.rest.sent).to;
	return `${first} answers best ${best.trait}: ${best.answered} of ${best.sent} within two days, against ${best.rest.answered} of ${best.rest.sent} otherwise.${chance ? ' These are few, and it may be chance.' : ''}`;
}
