import { daysBetween, type IsoDate } from '../calendar/firm-calendar';
import { accountName } from '../statements/accounts';
import { sumWords } from '../statements/grid-words';

/** What is known of a file that came without being asked for. */
export interface Arrival {
	/** of the file */
	name: string;
	/** what whoever sent it says that it is */
	note: string;
	/** the words of its first pages; null where they were not read, or there are none */
	words: string | null;
	/** the contact who sent it */
	contactId: string | null;
	/** the statements that could be read in it */
	statements?: readonly ReadStatement[];
	/** the one thing that the mail of ours was about which it answers */
	answers?: string | null;
}

/** What a statement in it says of itself; null for what could not be read. */
export interface ReadStatement {
	/** of the client, if it is known which one */
	accountId: string | null;
	lastFour: string | null;
	from: IsoDate | null;
	to: IsoDate | null;
	/** exact, with two decimals */
	opening: string | null;
}

/** Something open that takes files. */
export interface OpenPlace {
	itemId: string;
	title: string;
	/** what the request is called that it is part of */
	request: string;
	/** whom it is asked of */
	contactId: string;
	/** the account whose statement it is, if it is one */
	account: {
		id: string;
		institution: string;
		lastFour: string;
		/** what the statement before closed with, if it is here */ closedBefore: string | null;
	} | null;
	/** the days that it is about */
	period: { from: IsoDate; to: IsoDate } | null;
	/** the files that it names, still to come */
	slots: readonly string[];
}

/** A reason to think that a file belongs somewhere, in words, and how much it says. */
export interface Sign {
	is: 'answers' | 'statement' | 'covers' | 'balance' | 'account' | 'institution' | 'period' | 'words' | 'named' | 'only';
	says: string;
	weight: number;
}

export interface LikelyPlace {
	itemId: string;
	/** the file of it that this one is by its name */
	slot: string | null;
	score: number;
	signs: Sign[];
}

/** A place is only named where its signs weigh this much together. */
const LEAST_SCORE = 3;

/** A text as it is compared: small letters without their marks. */
export const plain = (text: string): string => text.normalize('NFKD').replace(/\p{M}/gu, '').toLowerCase();

/** Words that stand in the names of any file. */
const COMMON = new Set([
	'scan',
	'file',
	'page',
	'pages',
	'document',
	'copy',
	'final',
	'image',
	'photo',
	'from',
	'with',
	'your',
	'last',
	'three',
	'months',
	'pour',
	'avec',
	'dans'
]);
const wordsOf = (text: string): Set<string> =>
	new Set(
		plain(text)
			.split(/[^\p{L}]+/u)
			.filter((word) => word.length >= 4 && !COMMON.has(word))
			// payslip and payslips are one
			.map((word) => word.replace(/s$/, ''))
	);

const MONTHS: readonly (readonly string[])[] = [
	['january', 'janvier', 'jan', 'janv'],
	['february', 'fevrier', 'feb', 'fevr'],
	['march', 'mars', 'mar'],
	['april', 'avril', 'apr', 'avr'],
	['may', 'mai'],
	['june', 'juin', 'jun'],
	['july', 'juillet', 'jul', 'juil', 'juill'],
	['august', 'aout', 'aug'],
	['september', 'septembre', 'sep', 'sept'],
	['october', 'octobre', 'oct'],
	['november', 'novembre', 'nov'],
	['december', 'decembre', 'dec']
];
const MONTH_OF = new Map(MONTHS.flatMap((names, i) => names.map((name) => [name, i + 1] as const)));
/** A month by its name, with the day before or behind it and the year; only names begin a search, for texts are long. */
const NAMED_MONTH = new RegExp(
	String.raw`(?:(?<!\d)\d{1,2}(?:st|nd|rd|th|er)?[ .-]{1,2})?(?<!\p{L})(${[...MONTH_OF.keys()].sort((a, b) => b.length - a.length).join('|')})(?!\p{L})\.?(?:[ -]\d{1,2}(?!\d),?)?(?:[ ,’'.-]{1,2}(\d{4})(?!\d))?`,
	'gu'
);

/** A month that a text speaks of; without its year where it does not say it. */
export interface SpokenMonth {
	month: number;
	year: number | null;
}

/**
 * The months that a text speaks of: “April 2026”, “April 30, 2026”, “1 Apr 26”, “2026-04-30”, “30.04.2026”, “04/2026”, “avril”; in the name of a
 * file also “202604”. “Apr 26” may be a day or a year: it is the month alone.
 */
export function monthsIn(text: string): SpokenMonth[] {
	const found = new Map<string, SpokenMonth>();
	const add = (month: number, year: number | null) => {
		if (month >= 1 && month <= 12 && (year === null || (year >= 1990 && year <= 2200))) found.set(`${year} ${month}`, { month, year });
	};
	const words = plain(text).replaceAll('_', ' ');
	for (const match of words.matchAll(NAMED_MONTH)) {
		const month = MONTH_OF.get(match[1])!;
		const short = /^\d{1,2}\D+\p{L}+\.?[ -](\d{2})$/u.exec(match[0])?.[1];
		const year = match[2] ?? (short && `20${short}`);
		// "may" is a word as well: without a year it says nothing
		if (match[1] !== 'may' || year !== undefined) add(month, year === undefined ? null : Number(year));
	}
	for (const match of words.matchAll(/(?<!\d)(\d{4})[-./ ]?(\d{2})(?:[-./ ]?\d{2})?(?!\d)/g)) add(Number(match[2]), Number(match[1]));
	for (const match of words.matchAll(/(?<!\d)\d{1,2}[-./](\d{1,2})[-./](\d{4})(?!\d)/g)) add(Number(match[1]), Number(match[2]));
	for (const match of words.matchAll(/(?<![\d./-])(\d{1,2})[-./](\d{4})(?!\d)/g)) add(Number(match[1]), Number(match[2]));
	return [...found.values()];
}

const MONTH_WORDS = ['January', 'February', 'March', 'April', 'May', 'June', 'July', 'August', 'September', 'October', 'November', 'December'];

const dayWords = (day: IsoDate) => `${Number(day.slice(8))} ${MONTH_WORDS[Number(day.slice(5, 7)) - 1]} ${day.slice(0, 4)}`;

/** Whether a month, of any year where none is said, lies in a span of days: its last month counts most, and is the one that is named. */
function inPeriod({ month, year }: SpokenMonth, { from, to }: { from: IsoDate; to: IsoDate }): boolean {
	const [first, last] = [from.slice(0, 7), to.slice(0, 7)];
	for (let y = Number(first.slice(0, 4)); y <= Number(last.slice(0, 4)); y++) {
		const one = `${y}-${String(month).padStart(2, '0')}`;
		if ((year === null || year === y) && one >= first && one <= last) return true;
	}
	return false;
}

/** What is read from a file once, for however many places. */
function readArrival({ name, note, words, statements = [], answers = null }: Arrival) {
	const said = `${name} ${note}`;
	const all = `${said} ${words ?? ''}`;
	const months = monthsIn(said);
	return {
		answers,
		statements,
		own: wordsOf(said),
		all: plain(all),
		// digits in groups are one number
		digits: all.replace(/(\d)[ -](?=\d)/g, '$1'),
		// what it is called goes before what stands in it
		months: months.length > 0 ? months : monthsIn((words ?? '').slice(0, 2000))
	};
}

/** What a file's name, its note and its words say for one place. */
function signsFor(
	{ answers, statements, own, all, digits, months }: ReturnType<typeof readArrival>,
	place: OpenPlace,
	alone: boolean
): { signs: Sign[]; slot: string | null } {
	const signs: Sign[] = [];
	if (place.itemId === answers) signs.push({ is: 'answers', says: 'it came in answer to a mail that was about this alone', weight: 6 });
	const { account, period } = place;
	// what a statement says of itself goes before words that may stand in it by chance
	const theirs = account ? statements.find(({ accountId }) => accountId === account.id) : undefined;
	const ofAnother = account !== null && theirs === undefined && statements.some(({ accountId, lastFour }) => accountId !== null || lastFour !== null);
	if (account && theirs) {
		signs.push({
			is: 'statement',
			says: `it is a statement of ${accountName(account)}`,
			weight: 4
		});
		if (account.closedBefore !== null && theirs.opening === account.closedBefore)
			signs.push({ is: 'balance', says: `it opens with what the one before closed with, ${sumWords(theirs.opening)}`, weight: 3 });
	} else if (account && !ofAnother) {
		const { institution, lastFour } = account;
		if (lastFour.length === 4 && new RegExp(`${lastFour}(?!\\d)`).test(digits))
			signs.push({ is: 'account', says: `an account number in it ends in ${lastFour}`, weight: 4 });
		if (all.includes(plain(institution))) signs.push({ is: 'institution', says: `it names ${institution}`, weight: 2 });
	}
	const [covers] = (theirs ? [theirs] : statements).filter(({ from, to }) => from !== null && to !== null);
	if (ofAnother) {
		// another account’s days say nothing about this one
	} else if (period && covers) {
		const [from, to] = [covers.from! > period.from ? covers.from! : period.from, covers.to! < period.to ? covers.to! : period.to];
		const shared = from <= to ? daysBetween(from, to) + 1 : 0;
		// more than half of what was asked for: cycles do not always match months
		if (shared * 2 > daysBetween(period.from, period.to) + 1)
			signs.push({ is: 'covers', says: `it covers ${dayWords(covers.from!)} to ${dayWords(covers.to!)}`, weight: 4 });
	} else if (period) {
		const fits = months.filter((month) => inPeriod(month, period));
		if (fits.length > 0) {
			const { month, year } = fits.find((one) => one.year !== null) ?? fits[0];
			signs.push({ is: 'period', says: `it speaks of ${MONTH_WORDS[month - 1]}${year === null ? '' : ` ${year}`}`, weight: year === null ? 2 : 3 });
		}
	} else {
		// “Your papers for April”: of which year is known by what is open now
		const asked = monthsIn(`${place.title} ${place.request}`);
		const same = months.find(({ month, year }) =>
			asked.some((one) => one.month === month && (one.year === null || year === null || one.year === year))
		);
		if (same) signs.push({ is: 'period', says: `it speaks of ${MONTH_WORDS[same.month - 1]}, as what was asked does`, weight: 2 });
	}
	const named = place.slots.find((slot) => [...wordsOf(slot)].some((word) => own.has(word)));
	if (named !== undefined) signs.push({ is: 'named', says: `“${named}” is still missing`, weight: 3 });
	const shared = [...wordsOf(place.title)].filter((word) => own.has(word));
	if (shared.length > 0)
		signs.push({
			is: 'words',
			says: `“${shared.join('”, “')}” ${shared.length === 1 ? 'stands' : 'stand'} in its name or note`,
			weight: Math.min(4, 2 * shared.length)
		});
	if (alone) signs.push({ is: 'only', says: 'nothing else is open that takes files', weight: 2 });
	return { signs, slot: named ?? null };
}

/**
 * Where a file that came by itself may belong, the likeliest first. Each place says why; what one sign alone half says is not named.
 * Of two that are equally likely none goes before: then a person knows better.
 */
export function likelyPlaces(arrival: Arrival, places: readonly OpenPlace[]): LikelyPlace[] {
	const read = readArrival(arrival);
	return places
		.map((place): LikelyPlace => {
			const { signs, slot } = signsFor(read, place, places.length === 1);
			const score = signs.reduce((sum, { weight }) => sum + weight, 0) + (signs.length > 0 && place.contactId === arrival.contactId ? 0.5 : 0);
			return { itemId: place.itemId, slot, score, signs };
		})
		.filter(({ score }) => score >= LEAST_SCORE)
		.sort((a, b) => b.score - a.score || (a.itemId < b.itemId ? -1 : 1));
}

/** A place where a file may go by itself needs this score, and this lead over any other. */
const SURE_SCORE = 8;
const SURE_LEAD = 3;

/**
 * The place where a file may go without a person: two signs that do not hang together (whose account it is, and which days it covers, both
 * said by a statement in it), and nothing else comes near. Words alone are never enough.
 */
export function surePlace(likely: readonly LikelyPlace[]): LikelyPlace | null {
	const [first, second] = likely;
	if (!first || first.score < SURE_SCORE || (second && first.score - second.score < SURE_LEAD)) return null;
	const signs = new Set(first.signs.map(({ is }) => is));
	return signs.has('statement') && signs.has('covers') ? first : null;
}

/** The place that is proposed: the likeliest, if it is likelier than any other. */
export function proposedPlace(likely: readonly LikelyPlace[]): LikelyPlace | null {
	const [first, second] = likely;
	return first && (!second || second.score < first.score) ? first : null;
}
