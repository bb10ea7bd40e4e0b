import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { readFile } from 'node:fs/promises';
import { createInterface } from 'node:readline';

export const PASSWORD = 'measured by lamplight';
const origin = process.env.ORIGIN!;

/** The product as it runs, with what it says of itself. */
export interface RunningApp {
	/** milliseconds that the server itself says it took for each request, by the request's id */
	serverTime: Map<string, number>;
	/** resident bytes of its process */
	memory(): Promise<number>;
	/** milliseconds for which its event loop was held at most while something was done */
	heldDuring(work: () => Promise<unknown>): Promise<number>;
	close(): Promise<void>;
}

export async function openApp(): Promise<RunningApp> {
	const app = spawn(process.execPath, ['--import', './bench/watch-loop.mjs', 'build/node/app.js'], {
		env: { ...process.env, LOG_LEVEL: 'info' },
		stdio: ['ignore', 'pipe', 'ignore', 'ipc']
	});
	process.on('exit', () => app.kill());
	const serverTime = new Map<string, number>();
	createInterface(app.stdout!).on('line', (text) => {
		const told = text.startsWith('{') ? (JSON.parse(text) as { msg: string; requestId: string; ms: number }) : null;
		if (told?.msg === 'request') serverTime.set(told.requestId, told.ms);
	});
	for (let i = 0; i < 300; i++) {
		if (
			await fetch(`${origin}/health`).then(
				(r) => r.ok,
				() => false
			)
		)
			break;
		await new Promise((resolve) => setTimeout(resolve, 100));
	}
	return {
		serverTime,
		memory: async () => Number(/VmRSS:\s+(\d+)/.exec(await readFile(`/proc/${app.pid}/status`, 'utf8'))![1]) * 1024,
		async heldDuring(work) {
			app.send('begin');
			await work();
			app.send('tell');
			const [{ held }] = (await once(app, 'message')) as [{ held: number }];
			return held;
		},
		async close() {
			app.kill();
			await once(app, 'exit');
		}
	};
}

/** Signs in. @param at `/desk` or a portal @returns the cookies, as they are sent back */
export async function signIn(at: string, email: string): Promise<string> {
	const answer = await fetch(`${origin}${at}/sign-in`, {
		method: 'POST',
		headers: { origin, accept: 'text/html', 'content-type': 'application/x-www-form-urlencoded' },
		body: new URLSearchParams({ email, password: PASSWORD }),
		redirect: 'manual'
	});
	const cookie = answer.headers
		.getSetCookie()
		.map((set) => set.split(';')[0])
		.join('; ');
	if (!cookie.includes('lantern_')) throw new Error('not signed in');
	return cookie;
}
