import type { ImportColumn } from '$lib/core/clients/import/columns';
import { openThread } from '../../platform/threads/open-thread';
import type { ListTask, MarkedPlan, ReadAndPlanned } from './list-thread';

/** Reading and planning of lists of clients, off the event loop. What is large is JSON text, see `ListTask`. */
export interface ListWork {
	/** @throws DomainError unreadable_file, too_many */
	read(bytes: Uint8Array, known: string): Promise<ReadAndPlanned>;
	plan(columns: (ImportColumn | null)[], rows: string, known: string): Promise<MarkedPlan>;
	close(): Promise<void>;
}

/** The same in a thread. */
export function threadedListWork(): ListWork {
	const thread = openThread<ListTask>('list-thread');
	return {
		read: (bytes, known) => thread.run({ do: 'read', bytes, known }),
		plan: (columns, rows, known) => thread.run({ do: 'plan', columns, rows, known }),
		close: thread.close
	};
}
