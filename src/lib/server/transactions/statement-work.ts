import { openThread } from '../platform/threads/open-thread';
import type { StatementLinesInBatches, StatementReadTask } from './statement-thread';

/** Reading of banks' and ledgers' files, off the event loop. */
export interface StatementWork {
	/** @throws DomainError unreadable_file, too_many */
	read(task: StatementReadTask): Promise<StatementLinesInBatches>;
	close(): Promise<void>;
}

/** The same in a thread. */
export function threadedStatementWork(): StatementWork {
	const thread = openThread<StatementReadTask>('statement-thread');
	return { read: (task) => thread.run(task), close: thread.close };
}
