import { Temporal } from 'temporal-polyfill';
import { localDate, type FirmCalendar, type IsoDate, type IsoInstant } from '../calendar/firm-calendar';
import type { FactDefinition } from './fact-definition';

/**
 * Since when a fact is to be confirmed: so many months after it was said or last confirmed, by the firm's calendar. Null if it never is.
 * @returns the first day on which it is asked about, which may lie ahead
 */
export function toConfirmOn(
	{ confirmAfter }: Pick<FactDefinition, 'confirmAfter'>,
	{ saidAt, confirmedAt }: { saidAt: IsoInstant; confirmedAt: IsoInstant | null },
	calendar: Pick<FirmCalendar, 'timeZone'>
): IsoDate | null {
	if (confirmAfter === null) return null;
	return Temporal.PlainDate.from(localDate(confirmedAt ?? saidAt, calendar))
		.add({ months: confirmAfter })
		.toString();
}

/** Whether it is time to ask whether a fact is still right. */
export function isToConfirm(
	definition: Pick<FactDefinition, 'confirmAfter'>,
	fact: { saidAt: IsoInstant; confirmedAt: IsoInstant | null },
	now: IsoInstant,
	calendar: Pick<FirmCalendar, 'timeZone'>
): boolean {
	const on = toConfirmOn(definition, fact, calendar);
	return on !== null && on <= localDate(now, calendar);
}
