// npm run bench: measures on a throw-away database and prints ratios against a floor of the same run.
// BENCH_PARTS="lists asking" measures those alone.
import { rmSync } from 'node:fs';
import { join } from 'node:path';
import { HOME, startDatabase } from './database.mjs';
import { needBuild, needModules, needPackages, SERVER_PACKAGES } from './setup.mjs';
import { freePort, productEnv, runScript } from './processes.mjs';

needPackages(SERVER_PACKAGES);
needModules();
needBuild();
const folder = join(HOME, '.lantern/bench');
const cluster = await startDatabase({ folder: join(folder, 'database'), port: 28432 });
cluster.sql('drop database if exists bench with (force)');
cluster.ensure('bench');
const port = await freePort();
const env = {
	...productEnv({
		database: 'bench',
		folder,
		port,
		smtpPort: await freePort(),
		bouncePort: 0,
		papersPort: await freePort(),
		textPort: 1,
		identityPort: 1,
		ownerUrl: cluster.ownerUrl('bench'),
		appUrl: cluster.appUrl('bench')
	}),
	DEMO: '0'
};
try {
	runScript('build/node/bench.js', env);
} finally {
	cluster.stop();
	rmSync(join(folder, 'papers'), { recursive: true, force: true });
}
