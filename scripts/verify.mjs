// npm run verify -- FILE.pdf: is it one of ours, unchanged, and who signed it when.
import { spawnSync } from 'node:child_process';
import { join, resolve } from 'node:path';
import { HOME, startDatabase } from './database.mjs';
import { needBuild, needModules } from './setup.mjs';
import { secretKey } from './processes.mjs';

needModules();
needBuild();
const folder = join(HOME, '.lantern');
const url = process.env.DATABASE_URL ?? (await startDatabase({ folder: join(folder, 'database') })).ownerUrl('lantern');
const files = process.argv.slice(2).map((file) => resolve(process.env.INIT_CWD ?? '.', file));
const done = spawnSync(process.execPath, [join(HOME, 'build/node/verify.js'), ...files], {
	cwd: HOME,
	stdio: 'inherit',
	env: {
		...process.env,
		DATABASE_URL: url,
		SMTP_URL: process.env.SMTP_URL ?? 'smtp://127.0.0.1:25',
		SECRET_KEY: process.env.SECRET_KEY ?? secretKey(folder)
	}
});
process.exit(done.status ?? 1);
