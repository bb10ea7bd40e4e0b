// npm run backup, npm run restore, npm run papers: with the settings of the app; without DATABASE_URL they are about the demo.
import { spawnSync } from 'node:child_process';
import { join } from 'node:path';
import { HOME, startDatabase } from './database.mjs';
import { secretKey } from './processes.mjs';
import { needBuild, needModules, needPackages, SERVER_PACKAGES } from './setup.mjs';

const [what, ...args] = process.argv.slice(2);
const command = what === 'papers' ? ['papers.js', ...args] : ['backup.js', what, ...args];
if (!process.env.DATABASE_URL && what === 'restore') {
	console.error('DATABASE_URL: is missing. Name the empty database to restore into, as its owner.');
	process.exit(1);
}
needPackages(process.env.DATABASE_URL ? { '/usr/bin/pg_dump': 'postgresql-client' } : SERVER_PACKAGES);
needModules();
needBuild();
const folder = join(HOME, '.lantern');
const cluster = process.env.DATABASE_URL ? null : await startDatabase({ folder: join(folder, 'database') });
const own = cluster
	? { DATABASE_URL: cluster.ownerUrl('lantern'), PAPERS_FOLDER: join(folder, 'papers'), SECRET_KEY: process.env.SECRET_KEY || secretKey(folder) }
	: {};
const done = spawnSync(process.execPath, ['--enable-source-maps', join(HOME, 'build/node', command[0]), ...command.slice(1)], {
	env: { ...process.env, ...own },
	stdio: 'inherit'
});
if (cluster && !cluster.wasRunning) cluster.stop();
process.exit(done.status ?? 1);
