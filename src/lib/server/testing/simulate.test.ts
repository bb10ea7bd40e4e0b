import { afterAll, beforeAll, expect, test } from 'vitest';
import { simulate } from './simulate';
import { openTestHouse, type TestHouse } from './test-firm';

/** More of them, and longer, with `npm run simulate -- SEEDS DAYS`. */
const SEEDS = Number(process.env.SIMULATE_SEEDS ?? 1);
const DAYS = Number(process.env.SIMULATE_DAYS ?? 60);

let house: TestHouse;
beforeAll(async () => (house = await openTestHouse()));
afterAll(() => house.close());

// each with its change of the clocks within the time that is played
test.each([
	['America/Halifax', '2026-02-23'],
	['Europe/Berlin', '2026-03-02'],
	['Australia/Sydney', '2026-03-09']
])(
	'a firm in %s: what the Almanac shows is what goes, one message a day, at the firm’s pace, and nobody drops out of sight',
	async (timeZone, start) => {
		for (let seed = 1; seed <= SEEDS; seed++) {
			const { faults, ...figures } = await simulate(house, seed, DAYS, timeZone, start);
			console.log(`${timeZone}, seed ${seed}:`, JSON.stringify(figures));
			expect(faults.slice(0, 12)).toEqual([]);
			expect(figures.messages).toBeGreaterThan(DAYS / 3);
		}
	},
	600_000
);
