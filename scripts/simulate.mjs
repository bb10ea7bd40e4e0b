// npm run simulate [-- SEEDS DAYS]: lets made-up firms in three time zones live for some time, and holds every day against the rules.
// On some of the days real worker processes do the work, against a mail server with faults, and are killed over it.
import { spawnSync } from 'node:child_process';
import { HOME } from './database.mjs';
import { needBuild, needModules, needPackages, SERVER_PACKAGES } from './setup.mjs';

const [seeds = '3', days = '90'] = process.argv.slice(2);
needPackages(SERVER_PACKAGES);
needModules();
needBuild();
const { status } = spawnSync('npx', ['vitest', 'run', 'src/lib/server/testing/simulate.test.ts'], {
	cwd: HOME,
	stdio: ['ignore', 'inherit', 'inherit'],
	env: { ...process.env, SIMULATE_SEEDS: seeds, SIMULATE_DAYS: days, SIMULATE_KILLS: '1' }
});
process.exit(status ?? 1);
