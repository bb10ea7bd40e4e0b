import { Readable } from 'node:stream';
import { error, redirect } from '@sveltejs/kit';
import { PUBLIC_FILE_MAX_BYTES } from '$lib/core/public-pages/public-page';
import { requireConfirmed, takePublicFile } from '$lib/server/public-pages/public-files';
import { firmOfPortal } from '$lib/web/desk-request';
import { inPage } from '$lib/web/form-errors';
import { takeInFile } from '$lib/web/take-in-file';
import { say } from '$lib/words/words';

/** Fields of the form beside the file, and what stands between them, in bytes. */
const FORM_BYTES = 8 * 1024;

/** Takes one file of somebody who answered on a public page; see `takeInFile`. Where no scripts run a form brings it. */
export const POST = async (event) => {
	const { context, firm, locale } = await firmOfPortal(event);
	const { receipt } = event.params;
	const take = (slot: string | null, file: { name: string; content: Readable; signal?: AbortSignal }) =>
		takePublicFile(context, firm.id, event.locals.actor, { receipt, slot: slot ?? '', ...file });
	// of somebody unknown no more is read, not even to be thrown away
	if (Number(event.request.headers.get('content-length') ?? Infinity) > PUBLIC_FILE_MAX_BYTES + FORM_BYTES)
		return Response.json({ message: say(locale, 'wrong.paper.large', { max: PUBLIC_FILE_MAX_BYTES / 1024 ** 2 }) }, { status: 413 });
	if (!event.request.headers.get('content-type')?.startsWith('multipart/form-data'))
		return takeInFile(event, locale, say(locale, 'wrong.paper.none'), (file) => take(event.url.searchParams.get('slot'), file));
	// a form is read as a whole: not before whoever sends it may
	await inPage(() => context.db.inFirm(firm.id, (tx) => requireConfirmed(tx, event.locals.actor, receipt)), locale);
	const form = await event.request.formData();
	const file = form.get('file');
	if (!(file instanceof File) || file.name === '') error(400, say(locale, 'wrong.paper.none'));
	const content = Readable.from([Buffer.from(await file.arrayBuffer())]);
	await inPage(() => take(String(form.get('slot') ?? ''), { name: file.name, content }), locale);
	redirect(303, `/portal/${firm.slug}/answer/${event.params.page}/sent/${receipt}${event.url.searchParams.has('shown') ? '?shown=frame' : ''}`);
};
