import { existsSync } from 'node:fs';
import { resolve } from 'node:path';
import { Piscina } from 'piscina';
import { DomainError } from '$lib/core/errors/domain-error';
import type { ImportColumn } from '$lib/core/clients/import/columns';
import type { ListTask, MarkedPlan, ReadAndPlanned } from './list-thread';

/** Reading and planning of lists of clients, off the event loop. What is large is JSON text, see `ListTask`. */
export interface ListWork {
	/** @throws DomainError unreadable_file, too_many */
	read(bytes: Uint8Array, known: string): Promise<ReadAndPlanned>;
	plan(columns: (ImportColumn | null)[], rows: string, known: string): Promise<MarkedPlan>;
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
		read: (bytes, known) => run({ do: 'read', bytes, known }),
		plan: (columns, rows, known) => run({ do: 'plan', columns, rows, known }),
		close: () => pool.close()
	};
}
