import type { ImportColumn } from '$lib/core/clients/import/columns';
import { openThread } from '../../platform/threads/open-thread';
import type { ListTask, MarkedImportPlan, ReadAndPlanned, SheetAsText } from './list-thread';

/** Reading and planning of lists of clients, off the event loop. What is large is JSON text, see `ListTask`. */
export interface ListWork {
	/** @throws DomainError unreadable_file, too_many */
	read(bytes: Uint8Array, known: string): Promise<ReadAndPlanned>;
	plan(list: { headingLine: number | null; columns: (ImportColumn | null)[] }, rows: string, known: string): Promise<MarkedImportPlan>;
	/** A file by which many are asked. @param fields `sheetFields` as JSON @throws DomainError unreadable_file, too_many */
	readSheet(bytes: Uint8Array, fields: string): Promise<SheetAsText>;
	close(): Promise<void>;
}

/** The same in a thread. */
export function threadedListWork(): ListWork {
	const thread = openThread<ListTask>('list-thread');
	return {
		read: (bytes, known) => thread.run({ do: 'read', bytes, known }),
		plan: ({ headingLine, columns }, rows, known) => thread.run({ do: 'plan', headingLine, columns, rows, known }),
		readSheet: (bytes, fields) => thread.run({ do: 'sheet', bytes, fields }),
		close: thread.close
	};
}
