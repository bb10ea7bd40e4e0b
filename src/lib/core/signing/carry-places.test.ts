import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import type { PrintedPage, PrintedRun } from '../statements/printed/page-lines';
import { carriedWords, carryPlaces } from './carry-places';

const run = (text: string, x: number, y: number): PrintedRun => ({ text, x, y, width: text.length * 5.5, height: 11 });
const page = (...runs: PrintedRun[]): PrintedPage => ({ width: 612, height: 792, runs });
const shifted = (of: PrintedPage, dx: number, dy: number): PrintedPage => ({
	...of,
	runs: of.runs.map((one) => ({ ...one, x: one.x + dx, y: one.y + dy }))
});
/** Two blocks to sign in that look alike but for whom they are for. */
const SIGNING = page(
	run('For the client', 64, 150),
	run('Signature: ______________', 64, 190),
	run('Date: ________', 390, 190),
	run('For Pennywhistle Row', 64, 310),
	run('Signature: ______________', 64, 350),
	run('Date: ________', 390, 350)
);
const TERMS = page(...Array.from({ length: 20 }, (_, n) => run(`${n + 1}. Either side may end clause ${n + 1} in writing.`, 64, 80 + n * 32)));
const place = (x: number, y: number, page = 2) => ({ page, x, y, width: 190, height: 44 });
const CLIENT = place(120, 150);
const FIRM = place(120, 310);

describe('places in a new edition', () => {
	test('the same pages: everything stands where it stood', () => {
		expect(carryPlaces([CLIENT, FIRM], [TERMS, SIGNING], [TERMS, SIGNING])).toEqual([
			{ page: 2, x: 120, y: 150, how: 'stayed' },
			{ page: 2, x: 120, y: 310, how: 'stayed' }
		]);
	});
	test('each goes with the block that it belongs to, over pages too, though the lines look alike', () => {
		const [client, firm] = [SIGNING.runs.slice(0, 3), SIGNING.runs.slice(3)];
		const after = [
			TERMS,
			TERMS,
			page(...firm.map((one) => ({ ...one, y: one.y - 160 }))),
			page(...client.map((one) => ({ ...one, x: one.x + 10, y: one.y + 300 })))
		];
		expect(carryPlaces([CLIENT, FIRM], [TERMS, SIGNING], after)).toEqual([
			{ page: 4, x: 130, y: 450, how: 'moved' },
			{ page: 3, x: 120, y: 150, how: 'moved' }
		]);
	});
	test('words that are gone leave a place where it was, within the pages there are, and say so', () => {
		const after = [page(run('Something else altogether', 64, 80))];
		expect(carryPlaces([CLIENT, place(600, 780)], [TERMS, SIGNING], after)).toEqual([
			{ page: 1, x: 120, y: 150, how: 'lost' },
			{ page: 1, x: 422, y: 748, how: 'lost' }
		]);
		// a scan has no words
		expect(carryPlaces([CLIENT], [page(), page()], [page(), page()])[0]).toEqual({ page: 2, x: 120, y: 150, how: 'lost' });
	});
	test('a page that is put in, and a clause that grows, move what stands behind them and nothing before them', () => {
		const initials = { page: 1, x: 470, y: 90, width: 54, height: 30 };
		const longer = page(...TERMS.runs.map((one, n) => (n < 4 ? one : { ...one, y: one.y + 14 })));
		const carried = carryPlaces([initials, CLIENT], [TERMS, SIGNING], [longer, page(run('Schedule of fees', 64, 80)), SIGNING]);
		expect(carried.map(({ page, how }) => [page, how])).toEqual([
			[1, 'stayed'],
			[3, 'moved']
		]);
		expect(carried[1]).toMatchObject({ x: 120, y: 150 });
	});
	test('wherever the words go together, the places go with them; none leaves its page', () => {
		fc.assert(
			fc.property(fc.integer({ min: -60, max: 60 }), fc.integer({ min: -100, max: 300 }), fc.integer({ min: 0, max: 3 }), (dx, dy, pages) => {
				const after = [...Array.from({ length: pages }, () => TERMS), shifted(SIGNING, dx, dy)];
				const carried = carryPlaces([CLIENT, FIRM], [TERMS, SIGNING], after);
				for (const [at, one] of carried.entries()) {
					const was = [CLIENT, FIRM][at];
					expect(one.page).toBe(pages + 1);
					expect(one.x).toBeCloseTo(was.x + dx, 6);
					expect(one.y).toBeCloseTo(Math.max(0, Math.min(was.y + dy, 792 - 44)), 6);
				}
			})
		);
	});
});

test('what became of the places is one sentence', () => {
	const said = (...how: ('stayed' | 'moved' | 'lost')[]) => carriedWords(how.map((one) => ({ how: one })));
	expect(said()).toBe('There were no places on its pages.');
	expect(said('stayed')).toBe('One place stands where it stood.');
	expect(said('stayed', 'stayed', 'moved')).toBe('2 places stand where they stood, one went with its words.');
	expect(said('lost', 'moved', 'moved')).toBe('2 places went with their words, one was not found again: look at the pages before you send it.');
});
