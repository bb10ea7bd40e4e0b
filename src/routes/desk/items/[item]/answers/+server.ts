import { deskRequest } from '$lib/web/desk-request';
import { idParam, inPage } from '$lib/web/form-errors';
import { exportStatementLineAnswers } from '$lib/server/transactions/export-answers';

/** The answers about transactions as a table. */
export const GET = async (event) => {
	const desk = await deskRequest(event);
	const { name, csv } = await inPage(() => desk.inFirm((tx) => exportStatementLineAnswers(tx, desk.actor, idParam(event.params.item))));
	return new Response(csv, {
		headers: {
			'content-type': 'text/csv; charset=utf-8',
			'content-disposition': `attachment; filename*=UTF-8''${encodeURIComponent(name.replace(/[/\\]/g, ' '))}`,
			'cache-control': 'no-store'
		}
	});
};
