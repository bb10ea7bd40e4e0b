import { existsSync } from 'node:fs';
import { resolve } from 'node:path';
import { Piscina } from 'piscina';
import { DomainError } from '$lib/core/errors/domain-error';
import type { LinesInBatches, LineTask } from './line-thread';

/** Reading of banks' and ledgers' files, off the event loop. */
export interface LineWork {
	/** @throws DomainError unreadable_file, too_many */
	read(task: LineTask): Promise<LinesInBatches>;
	close(): Promise<void>;
}

/** The same in a thread, which ends when idle. */
export function threadedLineWork(threadFile = resolve('build/node/line-thread.js')): LineWork {
	if (!existsSync(threadFile)) throw new Error(`${threadFile} is missing: run npm run build first`);
	const pool = new Piscina({ filename: threadFile, minThreads: 0, maxThreads: 1, idleTimeout: 60_000 });
	return {
		async read(task) {
			const answer = (await pool.run(task)) as { result: LinesInBatches } | { mistake: { code: DomainError['code']; message: string } };
			if ('mistake' in answer) throw new DomainError(answer.mistake.code, answer.mistake.message);
			return answer.result;
		},
		close: () => pool.close()
	};
}
