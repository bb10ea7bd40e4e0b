import { json } from '@sveltejs/kit';
import { z } from 'zod';
import { contentDisposition } from '$lib/core/papers/file-name';
import { fileInside, readInside } from '$lib/server/papers/paper-inside';
import { openPaper } from '$lib/server/papers/papers';
import { deskRequest } from '$lib/web/desk-request';
import { idParam, inPage } from '$lib/web/form-errors';
import { timeWords } from '$lib/words/dates';

/** What stands in a paper of text, or one file of a mail by its number. */
export const GET = async (event) => {
	const desk = await deskRequest(event);
	const wanted = z.coerce.number().int().min(0).max(60).nullable().catch(null).parse(event.url.searchParams.get('file'));
	return inPage(async () => {
		const { paper, firm } = await desk.inFirm(async (tx, firm) => ({
			paper: await openPaper(tx, desk.actor, idParam(event.params.paper), wanted === null ? 'look' : 'download', {
				scanning: Boolean(desk.context.settings.CLAMD)
			}),
			firm
		}));
		const content = desk.context.papers.read(paper.storageKey);
		if (wanted === null) {
			const inside = await readInside(paper, content);
			return json(inside.kind === 'mail' && inside.at ? { ...inside, at: timeWords(firm.locale, inside.at, firm.calendar.timeZone) } : inside);
		}
		const file = await fileInside(paper, content, wanted);
		return new Response(file.content as Buffer<ArrayBuffer>, {
			headers: {
				'content-type': file.contentType,
				'content-disposition': contentDisposition('attachment', file.name),
				'content-security-policy': "default-src 'none'; sandbox",
				'x-content-type-options': 'nosniff'
			}
		});
	});
};
