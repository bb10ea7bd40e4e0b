import { STATEMENT_FORMAT_WORDS } from '$lib/core/transactions/statement-line';
import { accountName } from '$lib/core/statements/accounts';
import { readClient } from '$lib/server/clients/read-clients';
import { deskRequest } from '$lib/web/desk-request';
import { idParam, inPage } from '$lib/web/form-errors';
import { readAccounts } from '$lib/server/statements/accounts';
import { readTransactionFiles, TRANSACTIONS_BYTES_MAX } from '$lib/server/transactions/transaction-files';
import { timeWords } from '$lib/words/dates';

export const load = async (event) => {
	event.depends('desk:live');
	const desk = await deskRequest(event);
	const clientId = idParam(event.params.client);
	return inPage(() =>
		desk.read(async (tx, firm) => {
			const client = await readClient(tx, desk.actor, clientId);
			return {
				client: { id: client.id, name: client.name, state: client.state },
				bytesMost: TRANSACTIONS_BYTES_MAX,
				accounts: (await readAccounts(tx, desk.actor, clientId)).map((account) => ({ id: account.id, name: accountName(account) })),
				files: (await readTransactionFiles(tx, desk.actor, clientId)).map(({ account, format, broughtAt, ...file }) => ({
					...file,
					format: STATEMENT_FORMAT_WORDS[format],
					account: account && accountName(account),
					at: timeWords(firm.locale, broughtAt, firm.calendar.timeZone)
				}))
			};
		})
	);
};
