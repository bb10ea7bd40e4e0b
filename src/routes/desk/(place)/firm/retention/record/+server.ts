import { contentDisposition } from '$lib/core/papers/file-name';
import { guardCell } from '$lib/core/tables/formula-guard';
import { writeCsv } from '$lib/core/tables/write-csv';
import { readDestroyed } from '$lib/server/papers/retention';
import { deskRequest } from '$lib/web/desk-request';
import { inPage } from '$lib/web/form-errors';

/** Hands out the record of what was destroyed as CSV (RFC 4180). */
export const GET = async (event) => {
	const desk = await deskRequest(event);
	const papers = await inPage(() => desk.inFirm((tx) => readDestroyed(tx, desk.actor, 100_000)));
	const csv = writeCsv([
		['Paper', 'Client', 'Bytes', 'SHA-256', 'Came', 'Destroyed', 'Said by'],
		...papers.map(({ name, clientName, bytes, sha256, at, destroyedAt, by }) => [
			guardCell(name),
			guardCell(clientName),
			String(bytes),
			sha256,
			at,
			destroyedAt,
			guardCell(by)
		])
	]);
	return new Response(csv, {
		headers: { 'content-type': 'text/csv; charset=utf-8', 'content-disposition': contentDisposition('attachment', 'destroyed papers.csv') }
	});
};
