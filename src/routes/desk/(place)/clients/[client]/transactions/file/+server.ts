import { z } from 'zod';
import { deskRequest } from '$lib/web/desk-request';
import { idParam } from '$lib/web/form-errors';
import { takeInFile } from '$lib/web/take-in-file';
import { bringInTransactions } from '$lib/server/transactions/transaction-files';

/** Takes the file of a bank or a ledger; see `takeInFile`. Answers its id. */
export const POST = async (event) => {
	const desk = await deskRequest(event);
	const clientId = idParam(event.params.client);
	const accountId = z.uuid().nullable().catch(null).parse(event.url.searchParams.get('account'));
	return takeInFile(event, 'en', 'Choose a file first.', async (file) => ({
		id: await bringInTransactions(desk.context, desk.firmId, desk.actor, { clientId, accountId, ...file })
	}));
};
