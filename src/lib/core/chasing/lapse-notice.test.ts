import { expect, test } from 'vitest';
import type { FirmCalendar } from '../calendar/firm-calendar';
import { lapseNotice } from './lapse-notice';

const halifax: FirmCalendar = {
	timeZone: 'America/Halifax',
	businessDays: [1, 2, 3, 4, 5],
	holidays: ['2026-03-10'],
	sendFrom: '09:00',
	sendTo: '17:00'
};
const auckland: FirmCalendar = { ...halifax, timeZone: 'Pacific/Auckland', holidays: [] };
const never = () => false;

test('it goes at the opening of the first business day of the last three, also over a change of the clocks', () => {
	expect(lapseNotice('2026-03-11', never, halifax, '2026-03-02T15:00:00Z')).toEqual({ at: '2026-03-09T12:00:00Z', localDay: '2026-03-09' });
	expect(lapseNotice('2026-03-09', never, halifax, '2026-03-02T15:00:00Z')).toEqual({ at: '2026-03-06T13:00:00Z', localDay: '2026-03-06' });
	expect(lapseNotice('2026-04-09', never, auckland, '2026-03-30T22:00:00Z')).toEqual({ at: '2026-04-05T21:00:00Z', localDay: '2026-04-06' });
});

test('it waits for a day on which nothing else goes, over holidays, and does not go where there is none', () => {
	expect(lapseNotice('2026-03-11', (day) => day === '2026-03-09', halifax, '2026-03-02T15:00:00Z')?.localDay).toBe('2026-03-11');
	expect(lapseNotice('2026-03-10', (day) => day === '2026-03-09', halifax, '2026-03-02T15:00:00Z')).toBeNull();
	expect(lapseNotice('2026-03-11', () => true, halifax, '2026-03-02T15:00:00Z')).toBeNull();
	// its day has come: as soon as sending hours allow
	expect(lapseNotice('2026-03-11', never, halifax, '2026-03-11T14:00:00Z')).toEqual({ at: '2026-03-11T14:00:00Z', localDay: '2026-03-11' });
	expect(lapseNotice('2026-03-11', never, halifax, '2026-03-11T21:00:00Z')).toBeNull();
});
