import { existsSync } from 'node:fs';
import { resolve } from 'node:path';
import { Piscina } from 'piscina';
import { DomainError } from '$lib/core/errors/domain-error';
import type { ReadFile } from '$lib/core/clients/import/read-file';
import type { ListTask, ListToPlan, MarkedPlan } from './list-thread';

/** Reading and planning of lists of clients, off the event loop. */
export interface ListWork {
	/** @throws DomainError unreadable_file, too_many */
	read(bytes: Uint8Array): Promise<ReadFile>;
	plan(list: ListToPlan): Promise<MarkedPlan>;
	close(): Promise<void>;
}

/** The same in a thread, which ends when idle. */
export function threadedListWork(threadFile = resolve('build/node/list-thread.js')): ListWork {
	if (!existsSync(threadFile)) throw new Error(`${threadFile} is missing: run npm run build first`);
	const pool = new Piscina({ filename: threadFile, minThreads: 0, maxThreads: 1, idleTimeout: 60_000 });
	const run = async <T>(task: ListTask): Promise<T> => {
		const answer = (await pool.run(task)) as { result: T } | { mistake: { code: DomainError['code']; message: string } };
		if ('mistake' in answer) throw new DomainError(answer.mistake.code, answer.mistake.message);
		return answer.result;
	};
	return {
		read: (bytes) => run({ do: 'read', bytes }),
		plan: (list) => run({ do: 'plan', ...list }),
		close: () => pool.close()
	};
}
