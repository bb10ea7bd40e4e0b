import { z } from 'zod';
import { contentDisposition } from '$lib/core/papers/file-name';
import { exportClientsCsv, exportPeopleCards } from '$lib/server/clients/import/export-clients';
import { deskRequest } from '$lib/web/desk-request';
import { inPage } from '$lib/web/form-errors';
import { dayOf } from '$lib/words/dates';

const KINDS = {
	csv: { write: exportClientsCsv, type: 'text/csv; charset=utf-8', ending: 'csv' },
	vcard: { write: exportPeopleCards, type: 'text/vcard; charset=utf-8', ending: 'vcf' }
} as const;

/** All clients as a file. */
export const GET = async (event) => {
	const desk = await deskRequest(event);
	const kind = KINDS[z.enum(['csv', 'vcard']).catch('csv').parse(event.url.searchParams.get('as'))];
	return inPage(() =>
		desk.inFirm(
			async (tx, firm) =>
				new Response(await kind.write(tx, desk.actor), {
					headers: {
						'content-type': kind.type,
						'content-disposition': contentDisposition('attachment', `Clients ${dayOf(desk.actor.now, firm.calendar.timeZone)}.${kind.ending}`)
					}
				})
		)
	);
};
