// npm test: sets up what is missing, builds, runs every test, and ends with one line over all runners.
import { spawnSync } from 'node:child_process';
import { mkdirSync, readFileSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { HOME, startDatabase } from './database.mjs';
import { needBuild, needModules, needPackages, TEST_PACKAGES } from './setup.mjs';

needPackages(TEST_PACKAGES);
needModules();
needBuild();

const results = join(HOME, 'test-results');
rmSync(results, { recursive: true, force: true });
mkdirSync(results, { recursive: true });
const run = (command, args) =>
	spawnSync(command, args, { cwd: HOME, stdio: ['ignore', 'inherit', 'inherit'], env: { ...process.env, FORCE_COLOR: '0' } }).status ?? 1;
const read = (name) => {
	try {
		return JSON.parse(readFileSync(join(results, name), 'utf8'));
	} catch {
		return null;
	}
};

const vitestStatus = run('npx', ['vitest', 'run', '--reporter=default', '--reporter=json', `--outputFile.json=${join(results, 'vitest.json')}`]);
const unit = read('vitest.json');
const playwrightStatus = run('npx', ['playwright', 'test']);
const browser = read('playwright.json')?.stats;
(
	await startDatabase({
		folder: `${process.platform === 'linux' ? '/dev/shm' : '.lantern'}/humble-lantern-test-${process.getuid?.() ?? 0}`,
		fast: true,
		port: 26432
	})
).stop();

let passed = (unit?.numPassedTests ?? 0) + (browser?.expected ?? 0) + (browser?.flaky ?? 0);
let failed = (unit?.numFailedTests ?? 0) + (browser?.unexpected ?? 0);
// a runner that broke off without naming a failed test has failed all the same
if (vitestStatus !== 0 && !unit?.numFailedTests) failed++;
if (playwrightStatus !== 0 && !browser?.unexpected) failed++;
if (passed === 0) failed++;
console.log(`${passed} passed, ${failed} failed`);
process.exit(failed > 0 ? 1 : 0);
