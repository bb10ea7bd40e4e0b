import { contentDisposition } from '$lib/core/papers/file-name';
import { guardCell } from '$lib/core/tables/formula-guard';
import { writeCsv } from '$lib/core/tables/write-csv';
import { readWhatWorks } from '$lib/server/chasing/what-works';
import { deskRequest } from '$lib/web/desk-request';
import { inPage } from '$lib/web/form-errors';

/** Hands out what came of reminders as CSV (RFC 4180). */
export const GET = async (event) => {
	const desk = await deskRequest(event);
	const groups = await inPage(() => desk.read((tx, firm) => readWhatWorks(tx, desk.actor, firm)));
	const csv = writeCsv([
		['By', 'Which', 'Sent', 'Came to their page', 'Answered', 'Handed in', 'Answered in the two days before', 'Stopped reminders'],
		...groups.map(({ by, name, sent, came, answered, handedIn, before, stopped }) => [
			by,
			guardCell(name),
			...[sent, came, answered, handedIn, before, stopped].map(String)
		])
	]);
	return new Response(csv, {
		headers: {
			'content-type': 'text/csv; charset=utf-8',
			'content-disposition': contentDisposition('attachment', 'which reminders work.csv'),
			'cache-control': 'no-store'
		}
	});
};
