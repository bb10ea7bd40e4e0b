import { spawn } from 'node:child_process';
import { once } from 'node:events';

/**
 * Starts the built app or worker with its output kept, and stops it once it says that it is ready, and what is to be done with it then is
 * done.
 * @param env all of its environment but PATH
 */
export async function startUntilReady(
	what: 'app' | 'worker',
	env: Record<string, string>,
	whenReady: () => Promise<void> = async () => undefined
): Promise<{ code: number | null; said: string; complained: string }> {
	const child = spawn(process.execPath, [`build/node/${what}.js`], { stdio: ['ignore', 'pipe', 'pipe'], env: { PATH: process.env.PATH, ...env } });
	let [said, complained] = ['', ''];
	let used: Promise<void> | undefined;
	child.stdout.on('data', (text: Buffer) => {
		said += text.toString();
		if (/"(app|worker) ready"/.test(said)) used ??= whenReady().finally(() => child.kill('SIGTERM'));
	});
	child.stderr.on('data', (text: Buffer) => (complained += text.toString()));
	const [code] = (await once(child, 'exit')) as [number | null];
	await used;
	return { code, said, complained: complained.trim() };
}
