import type { PairOfLine } from '$lib/core/transactions/papers-of-lines';
import { openThread } from '../platform/threads/open-thread';
import type { PairingTask } from './pairing-thread';
import type { StatementLinesInBatches, StatementReadTask } from './statement-thread';

/** Reading of banks' and ledgers' files and finding the papers of their lines, off the event loop. */
export interface StatementWork {
	/** @throws DomainError unreadable_file, too_many */
	read(task: StatementReadTask): Promise<StatementLinesInBatches>;
	/** as `papersOfLines` */
	pair(task: PairingTask): Promise<PairOfLine[]>;
	close(): Promise<void>;
}

/** The longest that pairs are looked for; a few thousand lines take less than one. */
const PAIRING_SECONDS = 30;

/** The same in threads. */
export function threadedStatementWork(): StatementWork {
	const thread = openThread<StatementReadTask>('statement-thread');
	const pairing = openThread<PairingTask>('pairing-thread');
	return {
		read: (task) => thread.run(task),
		pair: (task) => pairing.run(task, PAIRING_SECONDS),
		async close() {
			await thread.close();
			await pairing.close();
		}
	};
}
