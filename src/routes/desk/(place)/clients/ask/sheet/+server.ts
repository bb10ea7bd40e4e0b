import { contentDisposition } from '$lib/core/papers/file-name';
import { readBlankSheet } from '$lib/server/requests/ask-many';
import { deskRequest } from '$lib/web/desk-request';
import { idParam, inPage } from '$lib/web/form-errors';

/** A file to fill in: a row for each client, a column for each field that a list's words need. */
export const GET = async (event) => {
	const desk = await deskRequest(event);
	const listId = idParam(event.url.searchParams.get('list') ?? '');
	return inPage(() =>
		desk.read(async (tx, firm) => {
			const { listName, csv } = await readBlankSheet(tx, desk.actor, firm, listId);
			return new Response(csv, {
				headers: { 'content-type': 'text/csv; charset=utf-8', 'content-disposition': contentDisposition('attachment', `${listName}.csv`) }
			});
		})
	);
};
