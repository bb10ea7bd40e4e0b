import { openThread } from '../platform/threads/open-thread';
import type { LinesInBatches, LineTask } from './line-thread';

/** Reading of banks' and ledgers' files, off the event loop. */
export interface LineWork {
	/** @throws DomainError unreadable_file, too_many */
	read(task: LineTask): Promise<LinesInBatches>;
	close(): Promise<void>;
}

/** The same in a thread. */
export function threadedLineWork(): LineWork {
	const thread = openThread<LineTask>('line-thread');
	return { read: (task) => thread.run(task), close: thread.close };
}
