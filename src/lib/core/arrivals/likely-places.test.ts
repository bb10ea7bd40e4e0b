import { expect, test } from 'vitest';
import fc from 'fast-check';
import { likelyPlaces, monthsIn, proposedPlace, surePlace, type Arrival, type OpenPlace } from './likely-places';

test.each([
	['April 2026', ['2026-4']],
	['statement_apr 26.pdf', ['null-4']],
	['1 Apr 26', ['2026-4']],
	['on the 3rd of may', []],
	['3 May 2026', ['2026-5']],
	['Relevé avril 2026', ['2026-4']],
	['RELEVÉ DE FÉVRIER', ['null-2']],
	['1 April – 30 April 2026', ['null-4', '2026-4']],
	['30.04.2026', ['2026-4']],
	['2026-04-30', ['2026-4']],
	['202604 statement', ['2026-4']],
	['04/2026', ['2026-4']],
	['December 31, 2025', ['2025-12']],
	// what looks like a month and is none
	['You may send it', []],
	['marching band', []],
	['account 0020 447710', []],
	['2026-13-01', []],
	['', []]
])('%j speaks of %j', (text, months) => {
	expect(
		monthsIn(text)
			.map(({ year, month }) => `${year}-${month}`)
			.sort()
	).toEqual([...months].sort());
});
test('every month is read as it is written in English and in French', () => {
	fc.assert(
		fc.property(
			fc.integer({ min: 1, max: 12 }),
			fc.integer({ min: 2000, max: 2099 }),
			fc.constantFrom('en-CA', 'fr-CA', 'en-GB'),
			fc.constantFrom('long', 'short'),
			(month, year, locale, style) => {
				const words = new Intl.DateTimeFormat(locale, { month: style, year: 'numeric', timeZone: 'UTC' }).format(
					new Date(Date.UTC(year, month - 1, 15))
				);
				expect(monthsIn(`Statement, ${words}`)).toContainEqual({ month, year });
			}
		)
	);
});

const arrival = (name: string, more: Partial<Arrival> = {}): Arrival => ({ name, note: '', words: null, contactId: 'mara', ...more });
const place = (itemId: string, title: string, more: Partial<OpenPlace> = {}): OpenPlace => ({
	itemId,
	title,
	request: '',
	contactId: 'mara',
	account: null,
	period: null,
	slots: [],
	...more
});
const statement = (itemId: string, lastFour: string, month: string) =>
	place(itemId, `Statement of Harbour Union ··${lastFour}`, {
		account: { id: lastFour, institution: 'Harbour Union', lastFour, closedBefore: null },
		period: { from: `2026-${month}-01`, to: `2026-${month}-28` }
	});
const PLACES = [
	statement('april', '7710', '04'),
	statement('march', '7710', '03'),
	statement('other', '3304', '04'),
	place('payroll', 'People you pay', { slots: ['T4 slips', 'Time sheets'] }),
	place('lease', 'The lease of the shop')
];
const proposed = (one: Arrival, places = PLACES) => proposedPlace(likelyPlaces(one, places));

test('an account number, the bank and the month say which statement it is, wherever they stand', () => {
	const words = 'Harbour Union\nAccount 0020 447710\nStatement period 1 April - 30 April 2026';
	expect(proposed(arrival('scan0012.pdf', { words }))).toMatchObject({
		itemId: 'april',
		signs: [{ is: 'account' }, { is: 'institution' }, { is: 'period', says: 'it speaks of April 2026' }]
	});
	expect(proposed(arrival('7710 march 2026.pdf'))?.itemId).toBe('march');
	// what its name says goes before other months in its words
	expect(proposed(arrival('march 2026 7710.pdf', { words }))?.itemId).toBe('march');
});
test('a longer number that only holds the digits is another account', () => {
	expect(proposed(arrival('x.pdf', { words: 'Invoice 77104' }))).toBeNull();
});
test('a named file that is still missing is found by a word of its name', () => {
	expect(proposed(arrival('Slips 2025.zip'))).toMatchObject({ itemId: 'payroll', slot: 'T4 slips' });
	expect(proposed(arrival('IMG_1.jpg', { note: 'our time sheets' }))).toMatchObject({ itemId: 'payroll', slot: 'Time sheets' });
});
test('one word that two places share, a month alone, or nothing at all proposes nothing', () => {
	expect(proposed(arrival('IMG_2231.jpg'))).toBeNull();
	expect(proposed(arrival('April.pdf'))).toBeNull();
	expect(proposed(arrival('harbour union.pdf'))).toBeNull();
});
test('what the request is called says of which month it is', () => {
	const request = 'Your papers for April';
	const april = [
		place('bank', 'Bank statement', { request }),
		place('card', 'Card statement', { request }),
		place('sales', 'Sales of the month', { request })
	];
	expect(proposed(arrival('bank statement 30.04.2026.pdf'), april)).toMatchObject({
		itemId: 'bank',
		signs: [{ says: 'it speaks of April, as what was asked does' }, { says: '“bank”, “statement” stand in its name or note' }]
	});
	expect(proposed(arrival('april.pdf'), april)).toBeNull();
});
test('of two that are equally likely none is proposed', () => {
	const twins = [statement('a', '7710', '04'), statement('b', '7710', '04')];
	expect(likelyPlaces(arrival('7710.pdf'), twins)).toHaveLength(2);
	expect(proposed(arrival('7710.pdf'), twins)).toBeNull();
});
test('whoever is asked goes before somebody else, but is no sign by itself', () => {
	const mine = [place('theirs', 'The lease', { contactId: 'tobias' }), place('mine', 'The lease')];
	expect(proposed(arrival('the signed lease, lease.pdf', { note: 'contract' }), [mine[0], place('mine', 'The lease contract')])?.itemId).toBe('mine');
	expect(likelyPlaces(arrival('x.bin'), mine)).toEqual([]);
});
test('whatever a file is called, it is decided in a moment and says why', () => {
	fc.assert(
		fc.property(fc.string({ maxLength: 200 }), fc.string({ maxLength: 2000 }), (name, words) => {
			for (const likely of likelyPlaces(arrival(name, { words }), PLACES)) {
				expect(likely.signs.length).toBeGreaterThan(0);
				expect(likely.signs.every(({ says }) => says !== '')).toBe(true);
			}
		})
	);
	const before = performance.now();
	for (const hostile of ['1'.repeat(20_000), 'apr '.repeat(5000), '1 '.repeat(10_000), 'a'.repeat(20_000), '-'.repeat(20_000)])
		likelyPlaces(arrival('x', { words: hostile }), PLACES);
	const plainWords = performance.now();
	for (let n = 0; n < 5; n++) likelyPlaces(arrival('x', { words: 'A statement of nothing in particular. '.repeat(530) }), PLACES);
	// no text costs much more than any other of its length
	expect(plainWords - before).toBeLessThan(60 * (performance.now() - plainWords) + 50);
});

const april = { accountId: '7710', lastFour: '7710', from: '2026-04-01', to: '2026-04-30', opening: '12204.11' };
test('what a statement says of itself goes before words that stand in it by chance', () => {
	const places = [statement('a', '7710', '04'), statement('b', '7710', '03'), statement('c', '7728', '04')];
	const words = 'Harbour Union, account 0020 447728, March 2026';
	const [first, ...others] = likelyPlaces(arrival('x.pdf', { words, statements: [april] }), places);
	expect(first).toMatchObject({ itemId: 'a' });
	expect(first.signs.map(({ says }) => says)).toEqual(['it is a statement of Harbour Union ··7710', 'it covers 1 April 2026 to 30 April 2026']);
	// the other account is no place for it, whatever its number does in the text
	expect(others.map(({ itemId }) => itemId)).toEqual(['b']);
	expect(proposedPlace(likelyPlaces(arrival('x.pdf', { words, statements: [april] }), places))!.itemId).toBe('a');
});
test('that it opens with what the one before closed with is a sign of its own', () => {
	const place = statement('a', '7710', '04');
	const signs = (closedBefore: string | null) =>
		likelyPlaces(arrival('x.pdf', { statements: [april] }), [{ ...place, account: { ...place.account!, closedBefore } }])[0].signs.map(
			({ is }) => is
		);
	expect(signs('12204.11')).toEqual(['statement', 'balance', 'covers', 'only']);
	expect(signs('8528.55')).toEqual(['statement', 'covers', 'only']);
});
test('a cycle that does not match the month is placed where most of its days are', () => {
	const places = [statement('a', '7710', '04'), statement('b', '7710', '03')];
	const of = (from: string, to: string) =>
		proposedPlace(likelyPlaces(arrival('x.pdf', { statements: [{ ...april, from, to }] }), places))?.itemId ?? null;
	expect(of('2026-03-28', '2026-04-27')).toBe('a');
	expect(of('2026-02-25', '2026-03-24')).toBe('b');
	expect(of('2026-03-16', '2026-04-10')).toBeNull();
});

test('goes by itself only where two signs that do not hang together agree, and nothing comes near', () => {
	const places = [statement('a', '7710', '04'), statement('b', '7710', '03'), place('lease', 'The lease of the shop')];
	const sure = (more: Partial<Arrival>, of = places) => surePlace(likelyPlaces(arrival('statement.pdf', more), of))?.itemId ?? null;
	expect(sure({ statements: [april] })).toBe('a');
	// days of no month that is asked, an account alone, and all the words in the world
	expect(sure({ statements: [{ ...april, from: '2026-01-01', to: '2026-01-31' }] })).toBeNull();
	expect(sure({ statements: [{ ...april, from: null, to: null }] })).toBeNull();
	expect(sure({ words: 'Harbour Union, account 0020 447710, April 2026', note: 'the statement of Harbour Union for April 2026' })).toBeNull();
	// asked twice, nobody knows for which
	expect(sure({ statements: [april] }, [...places, statement('c', '7710', '04')])).toBeNull();
});
