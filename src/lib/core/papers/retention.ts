import { z } from 'zod';
import { addDays, type IsoDate } from '../calendar/firm-calendar';
import { oneLine } from '../people/plain-fields';

/** Days between the word that a paper is to go and its end, in which that can be stopped. */
export const DESTROYED_AFTER_DAYS = 30;

/** Years for which papers may be kept after the one in which they came, as they are offered. */
export const KEEP_YEARS = [1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 12, 15, 20, 30] as const;

/** How long papers are kept, as it is chosen; null where nothing is said. */
export const keepYearsField = z.union([
	z.literal('').transform(() => null),
	z.null(),
	z.coerce.number('Choose for how many years.').pipe(z.int().min(1).max(100))
]);

/** For how long papers are kept, in words. @param otherwise what holds where nothing is said */
export const keepWords = (years: number | null, otherwise = 'kept without end'): string =>
	years === null ? otherwise : `kept to the end of the ${years === 1 ? 'year' : ordinalWords(years)} after they came`;
const ordinalWords = (years: number): string => `${years}${years === 2 ? 'nd' : years === 3 ? 'rd' : 'th'} year`;

/** The day on which what is said to go today is destroyed. */
export const destroyedOn = (today: IsoDate): IsoDate => addDays(today, DESTROYED_AFTER_DAYS);

/** Why everything of a client is kept. */
export const holdReasonField = oneLine('why everything is kept', 300);
