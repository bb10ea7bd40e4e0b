import { z } from 'zod';
import { accountName } from '$lib/core/statements/accounts';
import { DomainError } from '$lib/core/errors/domain-error';
import { readActs } from '$lib/server/clients/client-rights';
import { readClient } from '$lib/server/clients/read-clients';
import { cycleWords } from '$lib/server/statements/accounts';
import { readStatementsOf } from '$lib/server/statements/read-statement';
import { readStatementGrid } from '$lib/server/statements/statement-grid';
import { deskRequest } from '$lib/web/desk-request';
import { idParam, inPage } from '$lib/web/form-errors';
import { monthParam } from '$lib/web/statement-months';
import { timeWords } from '$lib/words/dates';

/** “account.lastDay”, the cell whose leaf is open. */
function cellParam(text: string | undefined): { accountId: string; to: string } | null {
	if (text === undefined) return null;
	const [accountId, to] = text.split('.');
	return { accountId: idParam(accountId), to: z.iso.date().catch('').parse(to) };
}

export const load = async (event) => {
	event.depends('desk:live');
	const desk = await deskRequest(event);
	const clientId = idParam(event.params.client);
	const wanted = event.url.searchParams;
	const chosen = cellParam(event.params.cell);
	return inPage(() =>
		desk.read(async (tx, firm) => {
			const client = await readClient(tx, desk.actor, clientId);
			let last = monthParam(wanted.get('until'));
			let grid = await readStatementGrid(tx, desk.actor, firm, clientId, last);
			if (chosen && chosen.to < grid.months[0]) {
				last = monthParam(chosen.to.slice(0, 7));
				grid = await readStatementGrid(tx, desk.actor, firm, clientId, last);
			}
			const row = chosen && grid.rows.find(({ account }) => account.id === chosen.accountId);
			const cell = row?.cells.find(({ cycle }) => cycle.to === chosen!.to);
			if (chosen && !(row && cell)) throw new DomainError('not_found', 'There is no such statement.');
			const shownIds =
				row && cell ? row.statements.filter(({ id }) => cell.statementIds.includes(id)).flatMap(({ statementId }) => statementId ?? []) : [];
			// what came before it, to compare where it begins
			const joins = row ? row.joins.filter(({ laterId }) => shownIds.includes(laterId)) : [];
			return {
				client: { id: client.id, name: client.name, state: client.state },
				acts: await readActs(tx, desk.actor, clientId),
				until: last,
				grid: {
					...grid,
					rows: grid.rows.map(({ statements: _here, joins, ...one }) => ({
						...one,
						differing: Object.fromEntries(joins.filter(({ is }) => is === 'differs').map(({ laterId, difference }) => [laterId, difference!]))
					}))
				},
				accounts: grid.rows.map(({ account }) => ({ id: account.id, name: accountName(account) })),
				leaf:
					row && cell
						? {
								account: row.account,
								cell,
								words: cycleWords('en', cell.counts),
								statements: (await readStatementsOf(tx, desk.actor, clientId, { statementIds: shownIds, itemId: cell.itemId })).map((one) => ({
									...one,
									came: timeWords(firm.locale, one.uploadedAt, firm.calendar.timeZone)
								})),
								joins: joins.map((join) => ({ ...join, earlier: row.statements.find(({ id }) => id === join.earlierId)! }))
							}
						: null
			};
		})
	);
};
