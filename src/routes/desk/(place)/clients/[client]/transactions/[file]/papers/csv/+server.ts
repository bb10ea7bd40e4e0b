import { exportPapersOfLines } from '$lib/server/transactions/papers-of-lines';
import { contentDisposition } from '$lib/core/papers/file-name';
import { deskRequest } from '$lib/web/desk-request';
import { idParam, inPage } from '$lib/web/form-errors';

/** The lines of a file with their papers as a table. */
export const GET = async (event) => {
	const desk = await deskRequest(event);
	const { name, csv } = await inPage(() => desk.inFirm((tx) => exportPapersOfLines(tx, desk.actor, idParam(event.params.file))));
	return new Response(csv, { headers: { 'content-type': 'text/csv; charset=utf-8', 'content-disposition': contentDisposition('attachment', name) } });
};
