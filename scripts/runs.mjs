// Runs other programs so that Ctrl-C ends them and everything they have begun.
import { spawn } from 'node:child_process';
import { HOME } from './database.mjs';

/** Seconds that a program has to end by itself. */
const END_SECONDS = 15;
const running = new Set();
let stopped = false;

const signal = (child, name) => {
	try {
		process.kill(-child.pid, name);
	} catch {
		// it is gone
	}
};

/**
 * Runs a program in a process group of its own.
 * @param {object} [how]
 * @param {boolean | 'silent'} [how.quiet] keeps its output, and prints it only if it fails; silent never prints it
 * @param {string} [how.cwd] the folder it runs in
 * @param {number} [how.seconds] after which it is stopped
 * @returns {Promise<number>} its exit code; 1 if it was stopped
 */
export function run(command, args, { quiet = false, cwd = HOME, seconds } = {}) {
	if (stopped) return Promise.resolve(1);
	return new Promise((resolve) => {
		const child = spawn(command, args, {
			cwd,
			stdio: ['ignore', ...(quiet ? ['pipe', 'pipe'] : ['inherit', 'inherit'])],
			env: { ...process.env, FORCE_COLOR: '0' },
			detached: true
		});
		running.add(child);
		const late = seconds && setTimeout(() => signal(child, 'SIGKILL'), seconds * 1000);
		const said = [];
		child.stdout?.on('data', (data) => said.push(data));
		child.stderr?.on('data', (data) => said.push(data));
		child.once('error', (error) => {
			console.error(error.message);
			resolve(1);
		});
		child.once('close', (code) => {
			running.delete(child);
			clearTimeout(late);
			// what it began and left behind
			signal(child, 'SIGKILL');
			if (code !== 0 && quiet === true) process.stdout.write(Buffer.concat(said));
			resolve(code ?? 1);
		});
	});
}

/** Whether Ctrl-C was pressed. */
export const wasStopped = () => stopped;

for (const name of ['SIGINT', 'SIGTERM', 'SIGHUP'])
	process.on(name, () => {
		stopped = true;
		for (const child of running) {
			signal(child, 'SIGINT');
			setTimeout(() => signal(child, 'SIGKILL'), END_SECONDS * 1000).unref();
		}
	});
