import { existsSync } from 'node:fs';
import { resolve } from 'node:path';
import { Piscina } from 'piscina';
import { DomainError } from '$lib/core/errors/domain-error';
import type { ThreadAnswer } from './answers';

/** Work that goes on off the event loop. */
export interface Thread<Task> {
	/**
	 * @param seconds after which the task is ended with its thread
	 * @throws DomainError what the task says is a person's mistake; an AbortError after that time
	 */
	run<Result>(task: Task, seconds?: number): Promise<Result>;
	close(): Promise<void>;
}

/**
 * Opens threads that run one built file, and end when idle; see `answerOf` for how the file answers.
 * @param name of the file in build/node, without its ending
 * @throws Error if it was not built
 */
export function openThread<Task>(name: string, maxThreads = 1): Thread<Task> {
	const filename = resolve(`build/node/${name}.js`);
	if (!existsSync(filename)) throw new Error(`${filename} is missing: run npm run build first`);
	const pool = new Piscina({ filename, minThreads: 0, maxThreads, idleTimeout: 60_000 });
	return {
		async run<Result>(task: Task, seconds?: number) {
			const answer = (await pool.run(task, seconds ? { signal: AbortSignal.timeout(seconds * 1000) } : {})) as ThreadAnswer<Result>;
			if ('mistake' in answer) throw new DomainError(answer.mistake.code, answer.mistake.message);
			return answer.result;
		},
		close: () => pool.close()
	};
}
