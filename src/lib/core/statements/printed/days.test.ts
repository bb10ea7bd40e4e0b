import fc from 'fast-check';
import { expect, it } from 'vitest';
import { daysIn, orderOfDays, settledDay, wholeMonthsIn } from './days';

const LOCALES = ['en-CA', 'en-GB', 'en-US', 'fr-CA', 'de-DE', 'es-ES', 'it-IT', 'nl-NL'];
const read = (text: string, order: 'dmy' | 'mdy' | null = null, year: number | null = null) =>
	daysIn(text).map((day) => settledDay(day, order, year));

it.each([
	['1 Apr 26', ['2026-04-01']],
	['01.04.2026', ['2026-04-01']],
	['2026-04-01', ['2026-04-01']],
	['April 30, 2026', ['2026-04-30']],
	['Apr. 30 2026', ['2026-04-30']],
	['1er avril 2026', ['2026-04-01']],
	['30. April 2026', ['2026-04-30']],
	['30-APR-2026', ['2026-04-30']],
	['31. März 2026', ['2026-03-31']],
	['30 de abril de 2026', ['2026-04-30']],
	['30/04/2026', ['2026-04-30']],
	['04/30/26', ['2026-04-30']],
	['Statement period 1 April 2026 – 30 April 2026', ['2026-04-01', '2026-04-30']],
	['du 01.04.2026 au 30.04.2026', ['2026-04-01', '2026-04-30']],
	// the last of February, in a year that has none and in one that has
	['29 Feb 2026', []],
	['29 Feb 2028', ['2028-02-29']],
	// sums, numbers of accounts and times are no days
	['12,204.11 and 1.204,11 and 04.2026', []],
	['Account 0020 447710', []],
	['31.13.2026', []],
	['page 1 of 4', []],
	['7 May Rope Walk 120.50', [null]]
])('reads the days of “%s”', (text, days) => expect(read(text)).toEqual(days));

it('leaves a day alone that may be either, until the text says in which order it writes', () => {
	expect(read('03/04/2026')).toEqual([null]);
	expect(read('03/04/2026', 'dmy')).toEqual(['2026-04-03']);
	expect(read('03/04/2026', 'mdy')).toEqual(['2026-03-04']);
	const order = (text: string) => orderOfDays(daysIn(text).map(({ start, end }) => ({ words: text.slice(start, end) })));
	expect(order('03/04/2026 to 30/04/2026')).toBe('dmy');
	expect(order('03/04/2026 to 04/30/2026')).toBe('mdy');
	expect(order('03/04/2026 to 05/04/2026')).toBeNull();
	expect(order('30/04/2026 and 04/30/2026')).toBeNull();
});

it('knows every month as eight locales write it, long and short', () => {
	for (const locale of LOCALES)
		for (const month of ['long', 'short'] as const)
			for (let m = 1; m <= 12; m++) {
				const text = new Intl.DateTimeFormat(locale, { day: 'numeric', month, year: 'numeric', timeZone: 'UTC' }).format(
					new Date(Date.UTC(2026, m - 1, 17))
				);
				expect(read(text), `${locale}: ${text}`).toEqual([`2026-${String(m).padStart(2, '0')}-17`]);
			}
});

it('puts in the year that a day leaves out', () => {
	expect(read('1 April', null, 2026)).toEqual(['2026-04-01']);
	expect(read('01.04.', null, 2026)).toEqual(['2026-04-01']);
	expect(read('29 Feb', null, 2026)).toEqual([null]);
});

it.each([
	['Statement for April 2026', ['2026-4']],
	['Relevé de compte août 2026', ['2026-8']],
	['Kontoauszug 04/2026', ['2026-4']],
	['30 April 2026', []],
	['30/04/2026', []],
	['Extracto de abril de 2026', ['2026-4']]
])('reads the months of “%s”', (text, months) => expect(wholeMonthsIn(text).map(({ year, month }) => `${year}-${month}`)).toEqual(months));

it('reads back every day in the forms of six locales', () => {
	const day = fc
		.tuple(fc.integer({ min: 1990, max: 2099 }), fc.integer({ min: 1, max: 12 }), fc.integer({ min: 1, max: 28 }))
		.map(([y, m, d]) => new Date(Date.UTC(y, m - 1, d)));
	fc.assert(
		fc.property(day, fc.constantFrom(...LOCALES), fc.constantFrom('long', 'medium'), (date, locale, dateStyle) => {
			const text = new Intl.DateTimeFormat(locale, { dateStyle: dateStyle as 'long', timeZone: 'UTC' }).format(date);
			const iso = date.toISOString().slice(0, 10);
			const order = locale === 'en-US' ? 'mdy' : 'dmy';
			expect(read(`x ${text} y`, order), text).toEqual([iso]);
		})
	);
});
