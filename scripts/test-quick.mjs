// npm run test:quick [-- <commit>]: types, the tests of core; lint and the tests beside it of what changed since the commit.
import { execFileSync } from 'node:child_process';
import { existsSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { HOME, startTestDatabase } from './database.mjs';
import { run, wasStopped } from './runs.mjs';
import { needBuild, needModules, needPackages, SERVER_PACKAGES } from './setup.mjs';

const since = process.argv[2] ?? 'HEAD';
needPackages(SERVER_PACKAGES);
needModules();

const git = (...args) => execFileSync('git', args, { cwd: HOME, encoding: 'utf8' }).split('\n').filter(Boolean);
const changed = [...git('diff', '--name-only', '--diff-filter=d', since), ...git('ls-files', '--others', '--exclude-standard')];
const linted = changed.filter((file) => /\.(ts|js|mjs|svelte)$/.test(file));
// the tests beside what changed: nearly every other one reaches it over some corners
const folders = [...new Set(changed.filter((file) => /^src\/(?!lib\/(core|words)\/).+\.ts$/.test(file)).map(dirname))];

// some start the built product, and all that need a thread of it take the one that was built last
if (folders.some((folder) => /^src\/(app|worker|backup)\b/.test(folder)) || !existsSync(join(HOME, 'build/node'))) needBuild();

const steps = {
	types: () => run('npm', ['run', '--silent', 'check'], { quiet: true }),
	lint: () => (linted.length > 0 ? run('npx', ['eslint', ...linted], { quiet: true }) : 0),
	format: () =>
		changed.length > 0 ? run('npx', ['prettier', '--check', '--ignore-unknown', '--log-level', 'warn', ...changed], { quiet: true }) : 0,
	core: () => run('npx', ['vitest', 'run', 'src/lib/core', 'src/lib/words'], { quiet: true }),
	changed: () =>
		folders.length > 0 ? run('npx', ['vitest', 'run', '--passWithNoTests', ...folders.map((folder) => `${folder}/`)], { quiet: true }) : 0
};
const begun = performance.now();
const failed = [];
const step = async (name) => {
	const code = await steps[name]();
	if (code !== 0) failed.push(name);
	console.log(`${name}: ${code === 0 ? 'fine' : 'failed'} (${Math.round((performance.now() - begun) / 1000)} s)`);
};
// the tests share one template of the database, so they come one after the other
await Promise.all([
	step('types').then(() => step('format')),
	step('core')
		.then(() => step('lint'))
		.then(() => step('changed'))
]);
if (wasStopped()) {
	(await startTestDatabase()).stop();
	process.exit(130);
}
process.exit(failed.length > 0 ? 1 : 0);
