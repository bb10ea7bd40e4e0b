import * as chrono from 'chrono-node';
import { addDays, type IsoDate } from '../calendar/firm-calendar';
import type { MailHead } from '../arrivals/incoming-mail';
import { ownWords } from './own-words';

/** What a program answers while somebody is away. */
export interface AwayNote {
	/** the first day on which they are there again; null where it is not said plainly */
	backOn: IsoDate | null;
}

const AUTOMATIC_SUBJECT =
	/^\s*\[?(automatic(?:ally generated)? reply|auto(?:matic)?[ -]?(?:reply|response)|out of (?:the )?office|réponse automatique|absence du bureau|absent du bureau|automatische antwort|abwesenheits(?:notiz|meldung)|abwesend)\b/i;
/** Says that somebody is not there: of what a program answers else, such as "we have your mail", nobody needs to hear. */
const AWAY = ownWords(
	'out of (?:the )?office|away|on (?:annual |parental |sick |maternity |paternity )?leave|on (?:my )?holidays?|on vacation|travell?ing|not in the office|absente?s?|en congés?|en vacances|en déplacement|hors du bureau|im urlaub|abwesend|nicht im (?:büro|haus)|verreist|dienstreise|elternzeit'
);

/** Whether a program answered, not a person (RFC 3834): by what its head says, or by a subject that programs write. */
export const isAutomatic = ({ returnPath, autoSubmitted, outOfOffice, precedence }: MailHead, subject: string): boolean =>
	returnPath === '' || outOfOffice || /^auto-replied/i.test(autoSubmitted) || /^auto[_-]?reply/i.test(precedence) || AUTOMATIC_SUBJECT.test(subject);

/** What stands before the day on which they are there again. */
const BACK_BEFORE =
	/(?<!\p{L})(?:back|return(?:ing|s)?|(?:reachable|available) again|de retour|mon retour|reviens|reviendrai|wieder|zurück)(?!\p{L})[^.!?\n]{0,30}$/iu;
/** The same, where it is said after the day: "from 18 May I am back", "ab dem 18. Mai wieder erreichbar". */
const FROM_BEFORE = /(?<!\p{L})(?:from|as of|ab|dès|à partir du|à compter du)(?: (?:the|dem|le))?\s*(?:\p{L}+,?\s+)?$/iu;
const BACK_AFTER = /^[^.!?\n]{0,30}(?<!\p{L})(?:back|available|reachable|de retour|disponible|joignable|wieder|zurück|erreichbar)(?!\p{L})/iu;
/** What stands before the last day on which they are away. */
const UNTIL_BEFORE =
	/(?:(?<!\p{L})(?:until|till|through|up to|to|jusqu['’](?:au|à)|au|bis(?: zum| einschließlich| einschl\.)?)|[–-])\s*(?:and including |the |le |den |einschließlich |\p{L}+,?\s+)*$/iu;

const READERS = [chrono.en.GB, chrono.fr.strict, chrono.de.strict];

interface NamedDay {
	day: IsoDate;
	before: string;
	after: string;
	/** the end of a span: "4 to 12 May" */
	endsSpan: boolean;
}

/** Whether a date in figures can be read as two days: 5 June and 6 May. */
function isEitherWay(date: string): boolean {
	const [, a, b] = /^(\d{1,2})\/(\d{1,2})(?:\/\d{2,4})?$/.exec(date) ?? [];
	return a !== undefined && a !== b && Number(a) <= 12 && Number(b) <= 12;
}

/** The days that a sentence names. What is only a time of day, or could be read either way, is none. */
function daysNamed(text: string, cameOn: IsoDate): NamedDay[] {
	const [year, month, date] = cameOn.split('-').map(Number);
	const noon = new Date(year, month - 1, date, 12);
	const read = READERS.flatMap((reader) => reader.parse(text, noon, { forwardDate: true })).filter((result) => !isEitherWay(result.text));
	// several readers may know the same words: the one that read the most of them counts
	const longest = read.filter(
		(one) =>
			!read.some(
				(other) => other.text.length > one.text.length && other.index <= one.index && one.index + one.text.length <= other.index + other.text.length
			)
	);
	return longest.flatMap(({ start, end, index, text: named }) => {
		// a reader may take the word before a date for a part of it
		const begins = index + (/^(?:from|on|until|ab|am|bis|dès|le|du|au)\s+/i.exec(named)?.[0].length ?? 0);
		return [start, end].flatMap((part, n) =>
			part && (part.isCertain('day') || part.isCertain('weekday'))
				? [
						{
							day: `${part.get('year')}-${String(part.get('month')).padStart(2, '0')}-${String(part.get('day')).padStart(2, '0')}`,
							before: text.slice(Math.max(0, begins - 60), begins),
							after: text.slice(index + named.length, index + named.length + 60),
							endsSpan: n === 1
						}
					]
				: []
		);
	});
}

/**
 * Reads what a program answered: whether it says that somebody is away, and the day on which they are back, where that is plain. A day that
 * has passed, lies more than a year ahead, or contradicts another is not.
 * @param cameOn the day on which it came, by the firm's calendar
 */
export function readAwayNote(subject: string, text: string, cameOn: IsoDate): AwayNote | null {
	const said = `${subject}\n${text}`.slice(0, 2000);
	if (!AWAY.test(said)) return null;
	const sentences = said
		// "from 11 May" would be read as a time of day
		.replace(/\bfrom (?=\d)/gi, 'as of ')
		.split(/\n|(?<=\p{L})[.!?;]\s+/u)
		.map((sentence) => sentence.slice(0, 300));
	const named = sentences.flatMap((sentence) => daysNamed(sentence, cameOn)).filter(({ day }) => day > cameOn && day <= addDays(cameOn, 366));
	const isBack = ({ before, after, endsSpan }: NamedDay) =>
		!endsSpan && (BACK_BEFORE.test(before) || (FROM_BEFORE.test(before) && BACK_AFTER.test(after)));
	const back = new Set(named.filter(isBack).map(({ day }) => day));
	const until = new Set(named.filter((one) => !isBack(one) && (one.endsSpan || UNTIL_BEFORE.test(one.before))).map(({ day }) => addDays(day, 1)));
	const days = back.size > 0 ? back : until;
	return { backOn: days.size === 1 ? [...days][0] : null };
}
