import { accountName } from '$lib/core/statements/accounts';
import { readMissingStatements } from '$lib/server/statements/statement-grid';
import { deskRequest } from '$lib/web/desk-request';
import { inPage } from '$lib/web/form-errors';
import { dateWords } from '$lib/words/dates';

/** Rows that are shown; the file has all of them. */
const SHOWN = 300;

export const load = async (event) => {
	event.depends('desk:live');
	const desk = await deskRequest(event);
	const mine = event.url.searchParams.get('mine') !== null;
	return inPage(() =>
		desk.read(async (tx, firm) => {
			const missing = await readMissingStatements(tx, desk.actor, firm, mine ? desk.actor.id : null);
			return {
				mine,
				clients: new Set(missing.map(({ clientId }) => clientId)).size,
				statements: missing.reduce((sum, { cycles }) => sum + cycles.length, 0),
				more: Math.max(0, missing.length - SHOWN),
				rows: missing.slice(0, SHOWN).map(({ account, hole, cycles, ...one }) => ({
					...one,
					account: accountName(account),
					accountId: account.id,
					count: cycles.length,
					oldest: cycles[0].to,
					hole: `${dateWords('en', hole.from, 'withYear')} – ${dateWords('en', hole.to, 'withYear')}`
				}))
			};
		})
	);
};
