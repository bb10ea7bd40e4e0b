import { contentDisposition } from '$lib/core/papers/file-name';
import { missingAsCsv } from '$lib/server/statements/export-grid';
import { readMissingStatements } from '$lib/server/statements/statement-grid';
import { deskRequest } from '$lib/web/desk-request';
import { inPage } from '$lib/web/form-errors';

/** Every statement that is missing, as a file. */
export const GET = async (event) => {
	const desk = await deskRequest(event);
	const mineOf = event.url.searchParams.get('mine') ? desk.actor.id : null;
	return inPage(() =>
		desk.read(
			async (tx, firm) =>
				new Response(missingAsCsv(await readMissingStatements(tx, desk.actor, firm, mineOf)), {
					headers: {
						'content-type': 'text/csv; charset=utf-8',
						'content-disposition': contentDisposition('attachment', 'Missing statements.csv')
					}
				})
		)
	);
};
