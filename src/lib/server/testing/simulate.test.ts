import { expect, test } from 'vitest';
import { startKilledWorkers } from './killed-workers';
import { dice, simulate } from './simulate';
import { openTestContext } from './test-firm';

/** More of them, longer, and with real workers that are killed, with `npm run simulate -- SEEDS DAYS`. */
const SEEDS = Number(process.env.SIMULATE_SEEDS ?? 1);
const DAYS = Number(process.env.SIMULATE_DAYS ?? 60);
const KILLS = process.env.SIMULATE_KILLS === '1';

// each with its change of the clocks within the time that is played
test.each([
	['America/Halifax', '2026-02-23'],
	['Europe/Berlin', '2026-03-02'],
	['Australia/Sydney', '2026-03-09']
])(
	'a firm in %s: what the Almanac shows is what goes, one message a day, at the firm’s pace, and nobody drops out of sight',
	async (timeZone, start) => {
		for (let seed = 1; seed <= SEEDS; seed++) {
			const context = await openTestContext();
			const workers = KILLS ? await startKilledWorkers(context, dice(seed)) : null;
			try {
				const { faults, ...figures } = await simulate(context, seed, DAYS, timeZone, start, workers);
				console.log(`${timeZone}, seed ${seed}:`, JSON.stringify(figures));
				expect(faults.slice(0, 12)).toEqual([]);
				expect(figures.messages).toBeGreaterThan(DAYS / 3);
			} finally {
				await workers?.close();
				await context.close();
			}
		}
	},
	KILLS ? 3_600_000 : 600_000
);
