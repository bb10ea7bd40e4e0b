import fc from 'fast-check';
import { describe, expect, it, test } from 'vitest';
import { addDays, daysBetween } from '../calendar/firm-calendar';
import { cyclesClosingIn } from './accounts';
import { coverageOf, expectedFrom, gridRow, isMissing, joinsOf, longestHole, type StatementAsked, type StatementHere } from './statement-grid';

let n = 0;
const here = (from: string, to: string, more: Partial<StatementHere> = {}): StatementHere => ({
	id: `s${++n}`,
	from,
	to,
	opening: null,
	closing: null,
	settled: true,
	explained: '',
	...more
});
const asked = (to: string, state: StatementAsked['state'], dueOn: string | null = null): StatementAsked => ({ itemId: `i ${to}`, to, dueOn, state });
const monthly = { closingDay: 31, openedOn: null, closedOn: null };
const span = { from: '2026-01-01', to: '2026-05-31' };
const row = (statements: StatementHere[], items: StatementAsked[] = [], account: Parameters<typeof gridRow>[0] = monthly, since = '2026-01-01') =>
	gridRow(account, since, span, '2026-05-04', statements, items);
const states = (...of: Parameters<typeof row>) => row(...of).map(({ state }) => state);

const day = fc.integer({ min: 0, max: 400 }).map((days) => addDays('2025-10-20', days));
const days = fc.tuple(day, fc.integer({ min: 0, max: 90 })).map(([from, more]) => ({ from, to: addDays(from, more) }));

describe('coverage', () => {
	it('says of every day of an account’s life exactly once whether it is covered, missing or doubled', () => {
		fc.assert(
			fc.property(days, fc.array(days, { maxLength: 8 }), (life, covers) => {
				const parts = coverageOf(life, covers);
				expect(parts[0].from).toBe(life.from);
				expect(parts.at(-1)!.to).toBe(life.to);
				for (const [i, part] of parts.entries()) {
					if (i > 0) {
						expect(part.from).toBe(addDays(parts[i - 1].to, 1));
						expect(part.times).not.toBe(parts[i - 1].times);
					}
					for (const at of [part.from, part.to]) expect(part.times).toBe(covers.filter(({ from, to }) => from <= at && at <= to).length);
				}
				expect(parts.reduce((sum, { from, to }) => sum + daysBetween(from, to) + 1, 0)).toBe(daysBetween(life.from, life.to) + 1);
			})
		);
	});
	test('of no days is nothing', () => expect(coverageOf({ from: '2026-04-02', to: '2026-04-01' }, [])).toEqual([]));
});

describe('the row of an account', () => {
	test('what is in, to look at, asked, late, not asked, and not over', () => {
		expect(
			states([here('2026-01-01', '2026-01-31'), here('2026-02-01', '2026-02-28', { settled: false })], [asked('2026-03-31', 'asked', '2026-05-01')])
		).toEqual(['in', 'to_look_at', 'late', 'not_asked', 'not_over']);
		expect(row([], [asked('2026-03-31', 'seen', '2026-05-01')])[2]).toMatchObject({
			state: 'late',
			lateDays: 3,
			missingDays: 31,
			itemId: 'i 2026-03-31'
		});
		expect(states([], [asked('2026-04-30', 'asked', '2026-05-04')])[3]).toBe('asked');
	});
	test('what was given up is not missing; what was given up and asked again is', () => {
		expect(states([], [asked('2026-02-28', 'waived')])[1]).toBe('not_needed');
		expect(states([], [asked('2026-02-28', 'asked'), asked('2026-02-28', 'waived')])[1]).toBe('asked');
		expect(states([], [asked('2026-02-28', 'answered_no')])[1]).toBe('to_look_at');
	});
	test('a cycle that does not match months is placed by the days it covers', () => {
		const card = { ...monthly, closingDay: 20 };
		const cells = row([here('2025-12-21', '2026-01-20'), here('2026-02-01', '2026-02-28')], [], card, '2025-12-21');
		expect(cells.map(({ state, missingDays }) => [state, missingDays])).toEqual([
			['in', 0],
			// 21 to 31 January are missing of it
			['part', 11],
			['part', 20],
			['not_asked', 31],
			['not_over', 0]
		]);
		expect(cells[1].cycle).toEqual({ from: '2026-01-21', to: '2026-02-20' });
	});
	test('a quarter fills its three months', () =>
		expect(states([here('2026-01-01', '2026-03-31')]).slice(0, 4)).toEqual(['in', 'in', 'in', 'not_asked']));
	test('before it was opened and after it was closed nothing is expected, and of a part only its days', () => {
		const loan = { closingDay: 31, openedOn: '2026-02-12', closedOn: '2026-04-10' };
		const cells = row([here('2026-02-12', '2026-02-28'), here('2026-04-01', '2026-04-10')], [], loan, '2026-02-12');
		expect(cells.map(({ state }) => state)).toEqual(['before', 'in', 'not_asked', 'in', 'closed']);
		expect(cells[1].counts).toEqual({ from: '2026-02-12', to: '2026-02-28' });
	});
	it('finds every statement that is missing, whatever is there, and none that is not', () => {
		fc.assert(
			fc.property(fc.array(days, { maxLength: 8 }), fc.integer({ min: 1, max: 31 }), (covers, closingDay) => {
				const statements = covers.map(({ from, to }) => here(from, to));
				for (const cell of gridRow(
					{ ...monthly, closingDay },
					'2025-10-01',
					{ from: '2025-11-01', to: '2026-12-31' },
					'2027-02-01',
					statements,
					[]
				)) {
					const free = coverageOf(cell.cycle, covers).filter(({ times }) => times === 0);
					expect(isMissing(cell)).toBe(free.length > 0);
					expect(cell.missingDays).toBe(free.reduce((sum, { from, to }) => sum + daysBetween(from, to) + 1, 0));
				}
			})
		);
	});
	test('the longest hole is one, however many cycles it goes through', () => {
		const statements = [here('2026-01-01', '2026-01-10'), here('2026-03-21', '2026-04-29')];
		expect(longestHole(row(statements), statements)).toEqual({ from: '2026-01-11', to: '2026-03-20' });
		expect(longestHole(row([here('2026-01-01', '2026-04-30')]), [here('2026-01-01', '2026-04-30')])).toBeNull();
	});
});

describe('since when', () => {
	const since = (account: object, statements: StatementHere[] = [], items: (StatementAsked & { from: string })[] = []) =>
		expectedFrom({ ...monthly, ...account }, '2026-03-09', statements, items);
	test('since it was opened, else since it became known', () => {
		expect(since({ openedOn: '2025-11-12' })).toBe('2025-11-12');
		expect(since({})).toBe('2026-03-01');
		expect(since({ closingDay: 20 })).toBe('2026-02-21');
		expect(since({}, [here('2026-01-01', '2026-01-31')])).toBe('2026-01-01');
		expect(since({}, [], [{ ...asked('2025-12-31', 'asked'), from: '2025-12-01' }])).toBe('2025-12-01');
	});
});

describe('from one to the next', () => {
	const december = here('2025-12-01', '2025-12-31', { opening: '100.00', closing: '8940.55' });
	test('it joins, or the difference is said with its sign', () => {
		const january = here('2026-01-01', '2026-01-31', { opening: '8528.55', closing: '1.00' });
		expect(joinsOf([january, december])).toMatchObject([{ is: 'differs', difference: '-412.00', earlierId: december.id, laterId: january.id }]);
		expect(joinsOf([december, { ...january, opening: '8940.55' }])).toMatchObject([{ is: 'joined', difference: '0.00' }]);
		expect(joinsOf([december, { ...january, explained: 'a transfer on New Year' }])).toMatchObject([{ is: 'explained' }]);
		expect(joinsOf([december, { ...january, opening: null }])).toMatchObject([{ is: 'unread', difference: null }]);
	});
	test('between two with one missing nothing is said', () =>
		expect(joinsOf([december, here('2026-02-01', '2026-02-28', { opening: '5.00' })])).toEqual([]));
	test('a day that ends one and begins the next is no overlap; more days are', () => {
		const next = (from: string) => joinsOf([december, here(from, '2026-01-31', { opening: '8940.55' })])[0];
		expect(next('2025-12-31')).toMatchObject({ overlap: 0, is: 'joined' });
		expect(next('2025-12-30')).toMatchObject({ overlap: 2, is: 'unread' });
	});
	test('the same statement twice is one, the one of which more was read', () => {
		const twice = here('2025-12-01', '2025-12-31');
		expect(joinsOf([twice, december, here('2026-01-01', '2026-01-31', { opening: '8940.55' })])).toMatchObject([
			{ earlierId: december.id, is: 'joined' }
		]);
	});
	it('joins a run of statements however it is cut', () => {
		fc.assert(
			fc.property(fc.array(fc.bigInt({ min: -(10n ** 9n), max: 10n ** 9n }), { minLength: 2, maxLength: 12 }), (balances) => {
				const units = balances.map(
					(value) =>
						`${value < 0n ? '-' : ''}${(value < 0n ? -value : value) / 100n}.${String((value < 0n ? -value : value) % 100n).padStart(2, '0')}`
				);
				const cycles = cyclesClosingIn(monthly, '2026-01-01', '2026-12-31').slice(0, balances.length - 1);
				const run = cycles.map(({ from, to }, i) => here(from, to, { opening: units[i], closing: units[i + 1] }));
				expect(joinsOf(run).every(({ is }) => is === 'joined')).toBe(true);
			})
		);
	});
});
