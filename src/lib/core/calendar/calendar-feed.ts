import ICAL from 'ical.js';
import { addDays, type IsoDate, type IsoInstant } from './firm-calendar';

/** A day on which something is due, as a calendar takes it. */
export interface DueDay {
	/** the same as long as it is about the same thing, so that a calendar moves it instead of adding another */
	uid: string;
	on: IsoDate;
	title: string;
	/** more about it; empty where the title says all */
	words: string;
	/** where it is dealt with */
	url: string;
}

/** A text whose lines end as the format has it: a return that stands alone would end the property. */
const plain = (text: string) => text.replace(/\r\n?/g, '\n');

/**
 * Whole days as an iCalendar feed (RFC 5545), without times: they are that day in whatever time zone one is.
 * @param name what the calendar is called
 * @param now when the feed is made
 */
export function calendarFeed(name: string, days: readonly DueDay[], now: IsoInstant): string {
	const calendar = new ICAL.Component(['vcalendar', [], []]);
	calendar.updatePropertyWithValue('version', '2.0');
	calendar.updatePropertyWithValue('prodid', '-//Humble Lantern//what is due//EN');
	// RFC 7986; the other is what programs read that do not know it
	calendar.updatePropertyWithValue('name', name);
	calendar.updatePropertyWithValue('x-wr-calname', name);
	const refresh = new ICAL.Property('refresh-interval');
	refresh.setParameter('value', 'DURATION');
	refresh.setValue('PT1H');
	calendar.addProperty(refresh);
	const stamp = ICAL.Time.fromDateTimeString(`${now.slice(0, 19)}Z`);
	for (const day of days) {
		const event = new ICAL.Component('vevent');
		event.updatePropertyWithValue('uid', day.uid);
		event.updatePropertyWithValue('dtstamp', stamp);
		event.updatePropertyWithValue('dtstart', ICAL.Time.fromDateString(day.on));
		event.updatePropertyWithValue('dtend', ICAL.Time.fromDateString(addDays(day.on, 1)));
		event.updatePropertyWithValue('summary', plain(day.title));
		if (day.words) event.updatePropertyWithValue('description', plain(day.words));
		event.updatePropertyWithValue('url', day.url);
		// it takes nobody's time: whoever looks for a free hour still finds one
		event.updatePropertyWithValue('transp', 'TRANSPARENT');
		calendar.addSubcomponent(event);
	}
	return `${calendar.toString()}\r\n`;
}
