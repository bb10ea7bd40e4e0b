import { contentDisposition } from '$lib/core/papers/file-name';
import { exportMistakes } from '$lib/server/clients/import/export-clients';
import { readImport } from '$lib/server/clients/import/prepare-import';
import { deskRequest } from '$lib/web/desk-request';
import { idParam, inPage } from '$lib/web/form-errors';

/** The rows of a list that are wrong, as CSV. */
export const GET = async (event) => {
	const desk = await deskRequest(event);
	const id = idParam(event.params.list);
	return inPage(() =>
		desk.inFirm(async (tx) => {
			const { fileName } = await readImport(tx, desk.actor, id);
			return new Response(await exportMistakes(tx, desk.actor, id), {
				headers: {
					'content-type': 'text/csv; charset=utf-8',
					'content-disposition': contentDisposition('attachment', `${fileName.replace(/\.\w+$/, '')} to put right.csv`)
				}
			});
		})
	);
};
