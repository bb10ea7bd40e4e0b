// npm run demo: sets up what is missing, loads the demo scenario if the database is empty, runs everything.
import { rmSync, mkdirSync } from 'node:fs';
import { join } from 'node:path';
import { HOME, startDatabase } from './database.mjs';
import { needBuild, needModules, needPackages, SERVER_PACKAGES } from './setup.mjs';
import { freePort, productEnv, runScript, startProcess, stopProcesses, untilReady } from './processes.mjs';

const folder = join(HOME, '.lantern');
const own = process.env.DATABASE_URL;
if (!own) needPackages(SERVER_PACKAGES);
needModules();
needBuild();

const cluster = own ? null : await startDatabase({ folder: join(folder, 'database') });
cluster?.ensure('lantern');
const port = Number(process.env.PORT || 3000);
const [smtpPort, bouncePort, textPort] = [await freePort(), await freePort(), await freePort()];
const env = productEnv({
	database: 'lantern',
	folder,
	port,
	smtpPort,
	bouncePort,
	textPort,
	ownerUrl: own ?? cluster.ownerUrl('lantern'),
	appUrl: own ? process.env.APP_DATABASE_URL : cluster.appUrl('lantern'),
	origin: process.env.ORIGIN
});
mkdirSync(folder, { recursive: true });
for (const name of ['app', 'worker', 'mail', 'texts']) rmSync(join(folder, `${name}.log`), { force: true });

const children = [];
let stopping = false;
const stop = async (code) => {
	if (stopping) return;
	stopping = true;
	console.log('\nStopping …');
	await stopProcesses(children);
	cluster?.stop();
	process.exit(code);
};
process.on('SIGINT', () => void stop(0));
process.on('SIGTERM', () => void stop(0));
process.on('SIGHUP', () => void stop(0));

try {
	runScript('build/node/seed.js', { ...env, LOG_LEVEL: 'warn' });
	if (env.MAIL_STANDIN_PORT) children.push(startProcess('build/node/mail-standin.js', env, join(folder, 'mail.log')));
	if (env.TEXT_STANDIN_PORT) children.push(startProcess('build/node/text-standin.js', env, join(folder, 'texts.log')));
	children.push(startProcess('build/node/app.js', env, join(folder, 'app.log')));
	children.push(startProcess('build/node/worker.js', env, join(folder, 'worker.log')));
	for (const child of children)
		child.once('exit', (code) => !stopping && (console.error(`A process ended (${code}); see ${folder}/*.log`), void stop(1)));
	await untilReady(`http://127.0.0.1:${port}/health/ready`, children.at(-2));
	console.log(`
Humble Lantern is running. Ctrl-C stops it.

  The firm's desk    ${env.ORIGIN}/desk
    odalys@pennywhistle.example   (coordinator)   password: lamplight ledger harbour
    ferrin@pennywhistle.example   (partner)       the same password

  A client's page    ${env.ORIGIN}/portal/pennywhistle-row
    mara@gullstring.example       (Gull & String Kites)   password: kites above the harbour
    tobias@quay.example           (three businesses)      the same password

Mail and text messages go to stand-ins; the Postroom of the desk shows every message as it was received.
At the upper right of the desk the demo's clock can be moved forward.
`);
} catch (error) {
	console.error(error.message);
	await stop(1);
}
