import { z } from 'zod';
import { addDays, type IsoDate } from '../calendar/firm-calendar';

/** The longest that an answer is put off at a time, in days. */
export const LATER_MOST_DAYS = 60;

/** The form in which an answer is put off. @param today the day on which it is filled in */
export const laterSchema = (today: IsoDate) =>
	z.object({
		until: z.iso
			.date('Please choose a day.')
			.refine((day) => day > today, 'The day must lie ahead: it waits in Rounds again from then on.')
			.refine((day) => day <= addDays(today, LATER_MOST_DAYS), 'At most sixty days: somebody waits for an answer.')
	});
