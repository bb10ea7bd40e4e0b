import { contentDisposition } from '$lib/core/papers/file-name';
import { exportLetterTrail, readLetterTrail } from '$lib/server/signing/letter-trail';
import { paperOf } from '$lib/server/platform/pdf/compose-letter';
import { deskRequest } from '$lib/web/desk-request';
import { idParam, inPage } from '$lib/web/form-errors';
import { pdfAnswer } from '$lib/web/pdf-answer';
import { timeWords } from '$lib/words/dates';
import { trailLines } from '$lib/words/trail-lines';
import { sayer } from '$lib/words/words';

/** The trail of a letter: as JSON that anybody can check, or as PDF to read. */
export const GET = async (event) => {
	const desk = await deskRequest(event);
	const id = idParam(event.params.item);
	return inPage(async () => {
		if (event.url.searchParams.get('as') !== 'pdf') {
			const { name, trail } = await desk.inFirm((tx) => exportLetterTrail(tx, desk.actor, id));
			return new Response(`${JSON.stringify(trail, null, '\t')}\n`, {
				headers: {
					'content-type': 'application/json; charset=utf-8',
					'content-disposition': contentDisposition('attachment', `${name}.json`),
					'cache-control': 'private, no-store'
				}
			});
		}
		const { firm, trail } = await desk.inFirm(async (tx, firm) => ({ firm, trail: await readLetterTrail(tx, desk.actor, id) }));
		const lines = trailLines(trail.entries, firm.calendar.timeZone);
		const when = (at: string) => timeWords('en', at, firm.calendar.timeZone, 'stamp');
		const pdf = await desk.context.pdf.trail({
			title: `Trail of “${trail.title}”`,
			lead: `${trail.client}. ${lines.length === 1 ? 'One entry' : `${lines.length} entries`}, ${trail.brokenAt === null ? 'each with the hash of the one before it' : `not as they were kept: entry ${trail.brokenAt} does not follow from the one before it`}.`,
			firm: { name: firm.name, color: firm.color },
			paper: paperOf(firm.country),
			facts: [
				{ label: 'SHA-256 of the letter', value: trail.document },
				...(trail.sealed
					? [
							{ label: 'SHA-256 of the sealed file', value: trail.sealed.sha256 },
							{ label: 'Sealed', value: when(trail.sealed.at) },
							...(trail.sealed.stampedAt ? [{ label: 'Time stamp', value: when(trail.sealed.stampedAt) }] : [])
						]
					: [{ label: 'Sealed', value: 'not yet' }])
			],
			entries: lines.map((line, at) => ({
				number: String(at + 1),
				when: line.when,
				what: `${line.who} ${line.what}`,
				from: line.from,
				hash: line.hash,
				end: line.hash === trail.sealed?.end
			})),
			pageWords: sayer('en')('letter.page', { page: '{page}', count: '{count}' })
		});
		return pdfAnswer(pdf, `${trail.title}, trail`);
	});
};
