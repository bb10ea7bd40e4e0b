import { contentDisposition } from '$lib/core/papers/file-name';
import { readClient } from '$lib/server/clients/read-clients';
import { gridAsCsv } from '$lib/server/statements/export-grid';
import { readStatementGrid } from '$lib/server/statements/statement-grid';
import { deskRequest } from '$lib/web/desk-request';
import { idParam, inPage } from '$lib/web/form-errors';
import { monthParam } from '$lib/web/statement-months';

/** The months that the grid shows, as a file. */
export const GET = async (event) => {
	const desk = await deskRequest(event);
	const clientId = idParam(event.params.client);
	return inPage(() =>
		desk.read(async (tx, firm) => {
			const client = await readClient(tx, desk.actor, clientId);
			const grid = await readStatementGrid(tx, desk.actor, firm, clientId, monthParam(event.url.searchParams.get('until')));
			return new Response(gridAsCsv(grid), {
				headers: {
					'content-type': 'text/csv; charset=utf-8',
					'content-disposition': contentDisposition('attachment', `Statements ${client.name}.csv`)
				}
			});
		})
	);
};
