// npm test: sets up what is missing, builds, runs every test, and ends with one line over all runners.
import { cpSync, existsSync, mkdirSync, readFileSync, rmSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { HOME, startTestDatabase, TEST_FOLDER } from './database.mjs';
import { run, wasStopped } from './runs.mjs';
import { needBuild, needModules, needPackages, TEST_PACKAGES } from './setup.mjs';

needPackages(TEST_PACKAGES);
needModules();
needBuild();

const results = join(HOME, 'test-results');
rmSync(results, { recursive: true, force: true });
mkdirSync(results, { recursive: true });
const read = (name) => {
	try {
		return JSON.parse(readFileSync(join(results, name), 'utf8'));
	} catch {
		return null;
	}
};

const vitestStatus = await run('npx', [
	'vitest',
	'run',
	'--reporter=default',
	'--reporter=json',
	`--outputFile.json=${join(results, 'vitest.json')}`
]);
const unit = read('vitest.json');
const playwrightStatus = await run('npx', ['playwright', 'test']);
const browser = read('playwright.json')?.stats;
(await startTestDatabase()).stop();
if (playwrightStatus !== 0 && existsSync(join(TEST_FOLDER, 'e2e'))) {
	// what the products said is wanted after a failure; the rest of their folders is not
	cpSync(join(TEST_FOLDER, 'e2e'), join(results, 'products'), {
		recursive: true,
		filter: (path) => path.endsWith('.log') || (statSync(path).isDirectory() && !path.endsWith('papers'))
	});
	console.log('The logs of the products are in test-results/products.');
}
rmSync(TEST_FOLDER, { recursive: true, force: true });
if (wasStopped()) process.exit(130);

let passed = (unit?.numPassedTests ?? 0) + (browser?.expected ?? 0) + (browser?.flaky ?? 0);
let failed = (unit?.numFailedTests ?? 0) + (browser?.unexpected ?? 0);
// a runner that broke off without naming a failed test has failed all the same
if (vitestStatus !== 0 && !unit?.numFailedTests) failed++;
if (playwrightStatus !== 0 && !browser?.unexpected) failed++;
if (passed === 0) failed++;
console.log(`${passed} passed, ${failed} failed`);
process.exit(failed > 0 ? 1 : 0);
