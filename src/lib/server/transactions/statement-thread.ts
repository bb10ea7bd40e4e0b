import { randomUUID } from 'node:crypto';
import { identityMaker, isUncategorised } from '$lib/core/transactions/statement-line-identity';
import type { CsvChoices } from '$lib/core/transactions/read-csv';
import { readStatement, type ReadStatement } from '$lib/core/transactions/read-statement';
import type { UnreadStatementLine } from '$lib/core/transactions/statement-line';
import { answerOf, type ThreadAnswer } from '../platform/threads/answers';

/** Lines in one piece of text: it goes from the thread to the database as it is. */
const BATCH = 2000;
/** Lines that could not be read, of which the text is kept. */
const UNREAD_KEPT = 100;
/** Bytes that a reader is fed at once. */
const PIECE = 256 * 1024;

export interface StatementReadTask {
	bytes: Uint8Array;
	choices: CsvChoices;
	/** the account that was chosen for the file, or '' */
	scope: string;
}
export interface StatementLinesInBatches {
	found: ReadStatement;
	lines: number;
	unread: number;
	unreadLines: UnreadStatementLine[];
	/** JSON arrays of rows as `transaction_line` has them */
	batches: string[];
}
/** What runs in a thread of its own. */
export default function run(task: StatementReadTask): Promise<ThreadAnswer<StatementLinesInBatches>> {
	return answerOf(async () => {
		const result: Omit<StatementLinesInBatches, 'found'> = { lines: 0, unread: 0, unreadLines: [], batches: [] };
		let batch: object[] = [];
		const close = () => {
			if (batch.length > 0) result.batches.push(JSON.stringify(batch));
			batch = [];
		};
		function* pieces() {
			for (let at = 0; at < task.bytes.length; at += PIECE) yield task.bytes.subarray(at, at + PIECE);
		}
		const identify = identityMaker(task.scope);
		const found = await readStatement(pieces(), task.choices, {
			line(line) {
				result.lines++;
				batch.push({ id: randomUUID(), ...line, ...identify(line), uncategorised: isUncategorised(line.category) });
				if (batch.length === BATCH) close();
			},
			unread(line) {
				result.unread++;
				if (result.unreadLines.length < UNREAD_KEPT) result.unreadLines.push(line);
			}
		});
		close();
		return { ...result, found };
	});
}
