// npm run demo: sets up what is missing, loads the demo scenario if the database is empty, runs everything.
import { mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { HOME, startDatabase } from './database.mjs';
import { needBuild, needModules, needPackages, SERVER_PACKAGES } from './setup.mjs';
import { freePort, isFree, productEnv, runScript, startProcess, stopProcesses, untilReady } from './processes.mjs';

const folder = join(HOME, '.lantern');
const own = process.env.DATABASE_URL;
if (!own) needPackages(SERVER_PACKAGES);
mkdirSync(folder, { recursive: true });
await refuseSecondDemo(join(folder, 'demo.json'));
const port = Number(process.env.PORT || 3000);
if (!(await isFree(port))) {
	console.error(`Port ${port} is in use by another program. Name another one: PORT=${port + 1} npm run demo`);
	process.exit(1);
}
writeFileSync(join(folder, 'demo.json'), JSON.stringify({ pid: process.pid, port }));

needModules();
needBuild();

const cluster = own ? null : await startDatabase({ folder: join(folder, 'database') });
cluster?.ensure('lantern');
const [smtpPort, bouncePort, papersPort, textPort, identityPort] = [
	await freePort(),
	await freePort(),
	await freePort(),
	await freePort(),
	await freePort()
];
const env = productEnv({
	database: 'lantern',
	folder,
	port,
	smtpPort,
	bouncePort,
	papersPort,
	textPort,
	identityPort,
	ownerUrl: own ?? cluster.ownerUrl('lantern'),
	appUrl: own ? process.env.APP_DATABASE_URL : cluster.appUrl('lantern'),
	origin: process.env.ORIGIN
});
for (const name of ['app', 'worker', 'mail', 'texts', 'identity']) rmSync(join(folder, `${name}.log`), { force: true });

/** Two demos in one folder would share a database, and the first to stop would take it from the other. */
async function refuseSecondDemo(file) {
	let running;
	try {
		running = JSON.parse(readFileSync(file, 'utf8'));
		process.kill(running.pid, 0);
		if (!readFileSync(`/proc/${running.pid}/cmdline`, 'utf8').includes('demo.mjs')) return;
	} catch {
		return;
	}
	console.error(
		`The demo of this folder is running already, at http://localhost:${running.port}/desk (process ${running.pid}). Stop that one first, with Ctrl-C.`
	);
	process.exit(1);
}

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
	if (env.IDENTITY_STANDIN_PORT) children.push(startProcess('build/node/identity-standin.js', env, join(folder, 'identity.log')));
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
Identity checks are simulated too: the right answer to each question is the first one.
Papers by mail come in by SMTP at 127.0.0.1:${papersPort}; a client's page under "Send us something" has their address.
At the upper right of the desk the demo's clock can be moved forward.
`);
} catch (error) {
	console.error(error.message);
	await stop(1);
}
