import { ASKED_LINES_MAX, transactionsSpec } from '../../transactions/statement-line-questions';
import { FILES_MOST, USUAL, type ItemKindDefinition } from '../item-kind';

export const transactions = {
	...USUAL,
	words: { short: 'lines', words: 'questions about transactions', about: 'they say of each line what it was, or add the paper' },
	spec: transactionsSpec,
	empty: () => ({ asks: 'what', choices: [], lines: [] }),
	// they begin with the file of a bank or ledger
	written: false,
	minutes: () => 8,
	// each line may have its own
	filesMost: () => Math.max(FILES_MOST, 2 * ASKED_LINES_MAX),
	// the file of one line, under the line's id
	slot: ({ lines }, name) => (lines.some((line) => line.id === name) ? { name, accepts: 'any' } : undefined),
	goesOn: 'until_looked_at'
} satisfies ItemKindDefinition<typeof transactionsSpec>;
