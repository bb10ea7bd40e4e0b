// A fresh copy of the demo scenario with its processes, for scripts that look at the product: independent of what was tried out in the demo.
import { mkdirSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { chromium } from '@playwright/test';
import pg from 'pg';
import { HOME, startDatabase } from './database.mjs';
import { freePort, productEnv, runScript, startProcess, stopProcesses, untilReady } from './processes.mjs';

/**
 * Seeds and starts a copy on the first morning of the scenario.
 * @param {string} name of its folder
 * @param {number} databasePort
 */
export async function startDemoCopy(name, databasePort) {
	const folder = join(HOME, '.lantern', name);
	rmSync(folder, { recursive: true, force: true });
	mkdirSync(folder, { recursive: true });
	const cluster = await startDatabase({ folder: join(folder, 'database'), fast: true, port: databasePort });
	cluster.ensure('lantern');
	const env = productEnv({
		database: 'lantern',
		folder,
		port: await freePort(),
		smtpPort: await freePort(),
		bouncePort: await freePort(),
		papersPort: await freePort(),
		textPort: await freePort(),
		identityPort: await freePort(),
		ownerUrl: cluster.ownerUrl('lantern'),
		appUrl: cluster.appUrl('lantern')
	});
	runScript('build/node/seed.js', { ...env, LOG_LEVEL: 'warn' });
	const sql = new pg.Client({ connectionString: cluster.ownerUrl('lantern') });
	await sql.connect();
	await sql.query('update demo_clock set offset_ms = $1', [Date.parse('2026-05-04T11:32:00Z') - Date.now()]);
	const children = ['mail-standin', 'text-standin', 'identity-standin', 'app', 'worker'].map((script) =>
		startProcess(join('build/node', `${script}.js`), env, join(folder, 'log'))
	);
	await untilReady(`${env.ORIGIN}/health/ready`);
	const browser = await chromium.launch({
		executablePath: '/usr/bin/chromium-headless-shell',
		args: ['--no-sandbox', '--disable-gpu', '--no-first-run', '--disable-background-networking', '--disable-component-update', '--disable-sync']
	});
	return {
		origin: env.ORIGIN,
		sql,
		browser,
		async stop() {
			await browser.close();
			await sql.end();
			await stopProcesses(children);
			cluster.stop();
		}
	};
}
