import { DomainError } from '$lib/core/errors/domain-error';
import type { Holiday } from '$lib/core/calendar/holidays';
import { openThread } from '../platform/threads/open-thread';
import type { CalendarTask } from './calendar-thread';

/** Reading of calendars that others made, off the event loop. */
export interface CalendarWork {
	/** @throws DomainError unreadable_file, invalid, also if it takes longer than five seconds */
	read(task: CalendarTask): Promise<Holiday[]>;
	close(): Promise<void>;
}

const SECONDS = 5;

/** The same in a thread, which is ended if a rule of the calendar keeps it busy: some never come to a day. */
export function threadedCalendarWork(): CalendarWork {
	const thread = openThread<CalendarTask>('calendar-thread');
	return {
		read: (task) =>
			thread.run<Holiday[]>(task, SECONDS).catch((error: Error) => {
				if (error.name !== 'AbortError') throw error;
				throw new DomainError('invalid', 'This calendar takes too long to read. Choose one that holds nothing but holidays.');
			}),
		close: thread.close
	};
}
