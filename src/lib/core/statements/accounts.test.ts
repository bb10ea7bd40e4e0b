import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { addDays } from '../calendar/firm-calendar';
import { accountName, accountSchema, cyclesClosingIn, isWholeMonth, wantedStatements, type Account } from './accounts';

const account = (more: Partial<Account> = {}): Account => ({
	id: 'a',
	kind: 'bank',
	institution: 'Tideline Savings',
	lastFour: '4471',
	currency: 'CAD',
	closingDay: 31,
	openedOn: null,
	closedOn: null,
	...more
});

describe('the cycles that close in a time', () => {
	test.each([
		[31, '2026-01-01', '2026-03-31', ['2026-01-01 2026-01-31', '2026-02-01 2026-02-28', '2026-03-01 2026-03-31']],
		[31, '2028-02-01', '2028-02-29', ['2028-02-01 2028-02-29']],
		[15, '2026-03-01', '2026-03-31', ['2026-02-16 2026-03-15']],
		[30, '2026-02-01', '2026-03-31', ['2026-01-31 2026-02-28', '2026-03-01 2026-03-30']],
		[1, '2026-01-02', '2026-02-01', ['2026-01-02 2026-02-01']]
	] as const)('closing on %i, from %s to %s', (closingDay, from, to, expected) =>
		expect(cyclesClosingIn(account({ closingDay }), from, to).map((cycle) => `${cycle.from} ${cycle.to}`)).toEqual(expected)
	);
	test('before it was opened and after it was closed there is none; the last one covers the closing', () => {
		const months = (more: Partial<Account>) => cyclesClosingIn(account(more), '2026-01-01', '2026-06-30').map((cycle) => cycle.to.slice(5, 7));
		expect(months({ openedOn: '2026-03-10' })).toEqual(['03', '04', '05', '06']);
		expect(months({ closedOn: '2026-03-10' })).toEqual(['01', '02', '03']);
		expect(months({ openedOn: '2026-03-10', closedOn: '2026-03-20' })).toEqual(['03']);
		expect(months({ closedOn: '2025-12-31' })).toEqual([]);
	});
	test('follow one another without gap or overlap, whatever the closing day', () => {
		fc.assert(
			fc.property(fc.integer({ min: 1, max: 31 }), fc.integer({ min: 0, max: 1500 }), (closingDay, offset) => {
				const from = addDays('2024-01-01', offset);
				const cycles = cyclesClosingIn(account({ closingDay }), from, addDays(from, 500));
				expect(cycles.length).toBeGreaterThanOrEqual(15);
				for (const [i, cycle] of cycles.entries()) {
					expect(cycle.from <= cycle.to).toBe(true);
					if (i > 0) expect(cycle.from).toBe(addDays(cycles[i - 1].to, 1));
				}
			})
		);
	});
});

test('one for each account and cycle, of the kind that is meant, never what was asked before', () => {
	const accounts = [account(), account({ id: 'b', kind: 'card', closingDay: 15 })];
	const wanted = (of: Parameters<typeof wantedStatements>[1], asked: string[] = []) =>
		wantedStatements(accounts, of, '2026-03-01', '2026-04-30', new Set(asked)).map((one) => `${one.account.id} ${one.cycle.to}`);
	expect(wanted('all')).toEqual(['a 2026-03-31', 'a 2026-04-30', 'b 2026-03-15', 'b 2026-04-15']);
	expect(wanted('card')).toEqual(['b 2026-03-15', 'b 2026-04-15']);
	expect(wanted('loan')).toEqual([]);
	expect(wanted('all', ['a 2026-03-31', 'b 2026-04-15'])).toEqual(['a 2026-04-30', 'b 2026-03-15']);
});

test('names, and whole months', () => {
	expect(accountName(account())).toBe('Tideline Savings ··4471');
	expect(accountName(account({ lastFour: '' }))).toBe('Tideline Savings');
	expect(isWholeMonth({ from: '2026-02-01', to: '2026-02-28' })).toBe(true);
	expect(isWholeMonth({ from: '2026-02-01', to: '2026-02-27' })).toBe(false);
	expect(isWholeMonth({ from: '2026-01-31', to: '2026-02-28' })).toBe(false);
});

test.each([
	[{ lastFour: '123456789' }, 'lastFour'],
	[{ currency: 'dollars' }, 'currency'],
	[{ closingDay: 32 }, 'closingDay'],
	[{ openedOn: '2026-02-01', closedOn: '2026-01-01' }, 'closedOn'],
	[{ institution: ' ' }, 'institution']
])('%j is refused at its field', (more, field) => {
	const typed = { kind: 'bank', institution: 'X', lastFour: '', currency: 'cad', closingDay: '31', openedOn: '', closedOn: '' };
	expect(accountSchema.safeParse(typed).success).toBe(true);
	expect(accountSchema.safeParse({ ...typed, ...more }).error?.issues[0].path).toEqual([field]);
});
