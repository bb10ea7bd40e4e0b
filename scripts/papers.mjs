// npm run papers: looks after the files of papers, with the settings of the app; without DATABASE_URL those of the demo.
import { spawnSync } from 'node:child_process';
import { join } from 'node:path';
import { HOME, startDatabase } from './database.mjs';
import { secretKey } from './processes.mjs';
import { needBuild, needModules, needPackages, SERVER_PACKAGES } from './setup.mjs';

if (!process.env.DATABASE_URL) needPackages(SERVER_PACKAGES);
needModules();
needBuild();
const folder = join(HOME, '.lantern');
const cluster = process.env.DATABASE_URL ? null : await startDatabase({ folder: join(folder, 'database') });
const own = cluster
	? { DATABASE_URL: cluster.ownerUrl('lantern'), PAPERS_FOLDER: join(folder, 'papers'), SECRET_KEY: process.env.SECRET_KEY || secretKey(folder) }
	: {};
const done = spawnSync(process.execPath, ['--enable-source-maps', join(HOME, 'build/node/papers.js'), ...process.argv.slice(2)], {
	env: { ...process.env, ...own },
	stdio: 'inherit'
});
if (cluster && !cluster.wasRunning) cluster.stop();
process.exit(done.status ?? 1);
