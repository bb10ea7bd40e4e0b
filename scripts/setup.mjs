// Brings a fresh Debian machine to where the product can run: Debian packages, npm packages, a build.
import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, readdirSync, statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { HOME } from './database.mjs';

const isRoot = process.getuid?.() === 0;

function run(command, args, options = {}) {
	const done = spawnSync(command, args, { cwd: HOME, stdio: 'inherit', ...options });
	if (done.status !== 0) throw new Error(`${command} ${args.slice(0, 3).join(' ')} … failed (exit code ${done.status})`);
}
const has = (path) => existsSync(path);

/** Installs Debian packages whose programs are missing. @param {Record<string, string>} wanted package by program */
export function needPackages(wanted) {
	const missing = Object.entries(wanted)
		.filter(([program]) => !has(program))
		.map(([, name]) => name);
	if (missing.length === 0) return;
	console.log(`Installing ${missing.join(', ')} …`);
	const prefix = isRoot ? [] : ['sudo', '-n'];
	const apt = (...args) => {
		const [command, ...rest] = [
			...prefix,
			'env',
			'DEBIAN_FRONTEND=noninteractive',
			'apt-get',
			'-qq',
			'-o',
			'DPkg::Lock::Timeout=300',
			'-o',
			'Dpkg::Use-Pty=0',
			...args
		];
		run(command, rest, { stdio: ['ignore', 'ignore', 'inherit'] });
	};
	if (missing.includes('postgresql') && isRoot && !has('/etc/postgresql-common/createcluster.conf')) {
		mkdirSync('/etc/postgresql-common', { recursive: true });
		writeFileSync('/etc/postgresql-common/createcluster.conf', 'create_main_cluster = false\n');
	}
	apt('update');
	apt('install', '-y', '--no-install-recommends', '-o', 'Dpkg::Options::=--force-confold', ...new Set(missing));
}

export const SERVER_PACKAGES = { '/usr/bin/psql': 'postgresql', '/usr/lib/postgresql': 'postgresql' };
export const TEST_PACKAGES = {
	...SERVER_PACKAGES,
	'/usr/bin/chromium-headless-shell': 'chromium-headless-shell',
	'/usr/bin/pdfsig': 'poppler-utils',
	'/usr/bin/qpdf': 'qpdf',
	'/usr/bin/certutil': 'libnss3-tools',
	'/usr/bin/openssl': 'openssl',
	'/usr/bin/curl': 'curl',
	'/usr/bin/oathtool': 'oathtool',
	'/usr/bin/dkimverify': 'python3-dkim',
	'/usr/bin/zbarimg': 'zbar-tools',
	'/usr/bin/unzip': 'unzip',
	'/usr/sbin/clamd': 'clamav-daemon'
};

/** Installs the npm packages of the committed lock if they are not there yet. */
export function needModules() {
	const stamp = join(HOME, 'node_modules/.lantern-lock');
	const lock = createHash('sha256')
		.update(readFileSync(join(HOME, 'package-lock.json')))
		.digest('hex');
	if (has(stamp) && readFileSync(stamp, 'utf8') === lock) return;
	console.log('Installing npm packages …');
	run('npm', ['install', '--no-audit', '--no-fund', '--loglevel=error']);
	writeFileSync(
		stamp,
		createHash('sha256')
			.update(readFileSync(join(HOME, 'package-lock.json')))
			.digest('hex')
	);
}

function newest(folder) {
	let latest = 0;
	for (const entry of readdirSync(folder, { recursive: true, withFileTypes: true }))
		if (entry.isFile() && !/\.test\.ts$/.test(entry.name)) latest = Math.max(latest, statSync(join(entry.parentPath, entry.name)).mtimeMs);
	return latest;
}

/** Builds app, worker and tools if a source is newer than the last build. */
export function needBuild() {
	const stamp = join(HOME, 'build/.built');
	const sources = Math.max(
		...['src', 'static', 'demo', 'bench'].map((f) => newest(join(HOME, f))),
		...['svelte.config.js', 'vite.config.ts', 'vite.node.config.ts', 'package-lock.json'].map((f) => statSync(join(HOME, f)).mtimeMs)
	);
	if (has(stamp) && statSync(stamp).mtimeMs > sources) return;
	console.log('Building …');
	run('npx', ['vite', 'build', '--logLevel', 'error'], { stdio: ['ignore', 'ignore', 'inherit'] });
	run('npx', ['vite', 'build', '-c', 'vite.node.config.ts', '--logLevel', 'error'], { stdio: ['ignore', 'ignore', 'inherit'] });
	writeFileSync(stamp, '');
}
