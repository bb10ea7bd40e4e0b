import type { TheirTimes } from './their-times';

const WEEKDAYS = ['Mondays', 'Tuesdays', 'Wednesdays', 'Thursdays', 'Fridays', 'Saturdays', 'Sundays'] as const;

/** What people call the place of a time zone: "Buenos Aires" for `America/Argentina/Buenos_Aires`. */
export const placeOfZone = (timeZone: string): string => timeZone.split('/').at(-1)!.replaceAll('_', ' ');

const listed = (words: readonly string[]): string => (words.length < 2 ? words.join('') : `${words.slice(0, -1).join(', ')} and ${words.at(-1)}`);

/** When somebody is written to by itself, after "is written to": "from 18:00 to 20:00 in Vancouver, not on Saturdays; at most one reminder a week". */
export function timesInWords(times: TheirTimes | null): string {
	if (!times) return 'whenever the firm writes';
	const where = times.timeZone === null ? '' : ` in ${placeOfZone(times.timeZone)}`;
	const hours =
		times.from !== null ? `from ${times.from} to ${times.to}${where}` : where === '' ? 'whenever the firm writes' : `in the firm’s hours${where}`;
	const quiet = times.quietDays.length > 0 ? `, not on ${listed(times.quietDays.map((day) => WEEKDAYS[day - 1]))}` : '';
	const week = times.perWeek === null ? '' : `; at most ${times.perWeek === 1 ? 'one reminder' : `${times.perWeek} reminders`} a week`;
	return `${hours}${quiet}${week}`;
}
