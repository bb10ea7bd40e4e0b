import { expect, test } from 'vitest';
import type { FirmCalendar } from '../calendar/firm-calendar';
import { DEFAULT_PACE } from '../chasing/pace';
import { DEFAULT_INVITATION_STEPS, forecastInvitation } from './invitation-chasing';

const calendar = (timeZone: string): FirmCalendar => ({
	timeZone,
	businessDays: [1, 2, 3, 4, 5],
	holidays: ['2026-05-18'],
	sendFrom: '09:00',
	sendTo: '17:00'
});
const invitation = {
	sentAt: '2026-05-04T14:00:00Z',
	expiresAt: '2026-06-03T14:00:00Z',
	chased: 0,
	remindedOn: [],
	toldOn: null,
	pace: DEFAULT_PACE,
	times: null
};
const days = (timeZone: string, heldUntil: string | null) =>
	forecastInvitation({ ...invitation, heldUntil }, calendar(timeZone), DEFAULT_INVITATION_STEPS, '2026-05-04T15:00:00Z', '2026-06-30').map(
		({ localDay }) => localDay
	);

test.each(['America/Halifax', 'Europe/Paris'])(
	'an invitation of somebody whose reminders are held waits until they may go again, in %s',
	(timeZone) => {
		expect(days(timeZone, null)).toEqual(['2026-05-07', '2026-05-13']);
		expect(days(timeZone, '2026-05-12')).toEqual(['2026-05-12', '2026-05-14']);
		// a Saturday, and a holiday after it
		expect(days(timeZone, '2026-05-16')).toEqual(['2026-05-19', '2026-05-21']);
		// past the day on which it lapses nobody is reminded of it
		expect(days(timeZone, '2026-06-10')).toEqual([]);
	}
);
