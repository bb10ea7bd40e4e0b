import { guardCell } from '$lib/core/tables/formula-guard';
import { writeCsv } from '$lib/core/tables/write-csv';
import { accountName, ACCOUNT_KIND_WORDS } from '$lib/core/statements/accounts';
import { cellWords } from '$lib/core/statements/grid-words';
import type { MissingStatements, StatementGrid } from './statement-grid';

/** The months of a grid as CSV: a line for each account and cycle, with its balances where one statement covers it. */
export function gridAsCsv({ rows }: StatementGrid): string {
	const lines = rows.flatMap(({ account, cells, statements, joins }) =>
		cells
			.filter(({ state }) => state !== 'before' && state !== 'closed')
			.map((cell) => {
				const only = cell.statementIds.length === 1 ? statements.find(({ id }) => id === cell.statementIds[0]) : undefined;
				const join = only && joins.find(({ laterId }) => laterId === only.id);
				return [
					guardCell(accountName(account)),
					ACCOUNT_KIND_WORDS[account.kind],
					account.currency,
					cell.counts.from,
					cell.counts.to,
					cellWords(cell),
					only?.opening ?? '',
					only?.closing ?? '',
					join?.difference ?? '',
					guardCell(only?.explained ?? '')
				];
			})
	);
	return writeCsv([
		['Account', 'Kind', 'Currency', 'First day', 'Last day', 'State', 'Opening', 'Closing', 'Off the one before by', 'Because'],
		...lines
	]);
}

/** What is missing where as CSV: a line for each statement. */
export const missingAsCsv = (missing: readonly MissingStatements[]): string =>
	writeCsv([
		['Client', 'Account', 'First day', 'Last day'],
		...missing.flatMap(({ clientName, account, cycles }) =>
			cycles.map(({ from, to }) => [guardCell(clientName), guardCell(accountName(account)), from, to])
		)
	]);
