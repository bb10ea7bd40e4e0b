import ICAL from 'ical.js';
import { addToInstant, type IsoInstant } from './firm-calendar';

/** An appointment as a calendar takes it. */
export interface Appointment {
	/** the same for every file of one appointment */
	uid: string;
	at: IsoInstant;
	minutes: number;
	title: string;
	/** empty if nothing is said about it */
	where: string;
	organizer: { name: string; email: string };
}

/** One appointment as an iCalendar file (RFC 5545), in UTC, which every calendar shows in its own time zone. @param now when the file is made */
export function calendarFile(appointment: Appointment, now: IsoInstant): string {
	const calendar = new ICAL.Component(['vcalendar', [], []]);
	calendar.updatePropertyWithValue('version', '2.0');
	calendar.updatePropertyWithValue('prodid', '-//Humble Lantern//appointments//EN');
	const event = new ICAL.Component('vevent');
	const time = (instant: IsoInstant) => ICAL.Time.fromDateTimeString(`${instant.slice(0, 19)}Z`);
	event.updatePropertyWithValue('uid', appointment.uid);
	event.updatePropertyWithValue('dtstamp', time(now));
	event.updatePropertyWithValue('dtstart', time(appointment.at));
	event.updatePropertyWithValue('dtend', time(addToInstant(appointment.at, { minutes: appointment.minutes })));
	event.updatePropertyWithValue('summary', appointment.title);
	if (appointment.where) event.updatePropertyWithValue('location', appointment.where);
	const organizer = new ICAL.Property('organizer');
	organizer.setParameter('cn', appointment.organizer.name);
	organizer.setValue(`mailto:${appointment.organizer.email}`);
	event.addProperty(organizer);
	calendar.addSubcomponent(event);
	return `${calendar.toString()}\r\n`;
}
