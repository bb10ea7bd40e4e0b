import { contentDisposition } from '$lib/core/papers/file-name';
import { readSheet, sheetResultsAsCsv } from '$lib/server/requests/ask-sheets';
import { deskRequest } from '$lib/web/desk-request';
import { idParam, inPage } from '$lib/web/form-errors';

/** What became of each row of a file, as a file: the rows as they came, and two columns more. */
export const GET = async (event) => {
	const desk = await deskRequest(event);
	const fileId = idParam(event.url.searchParams.get('file') ?? '');
	return inPage(() =>
		desk.read(async (tx) => {
			const sheet = await readSheet(tx, desk.actor, fileId);
			return new Response(await sheetResultsAsCsv(tx, desk.actor, sheet), {
				headers: {
					'content-type': 'text/csv; charset=utf-8',
					'content-disposition': contentDisposition('attachment', `Result of ${sheet.fileName}.csv`)
				}
			});
		})
	);
};
