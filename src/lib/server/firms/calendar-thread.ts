import type { IsoDate } from '$lib/core/calendar/firm-calendar';
import { readHolidays, type Holiday } from '$lib/core/calendar/holidays';
import { answerOf, type ThreadAnswer } from '../platform/threads/answers';

export interface CalendarTask {
	text: string;
	from: IsoDate;
	upTo: IsoDate;
}

/** What runs in a thread of its own. */
export default function run(task: CalendarTask): Promise<ThreadAnswer<Holiday[]>> {
	return answerOf(() => readHolidays(task.text, task.from, task.upTo));
}
