import { createHash } from 'node:crypto';
import { error } from '@sveltejs/kit';
import { findFeed, readCalendar } from '$lib/server/telling/calendar-feed';
import { inPage } from '$lib/web/form-errors';
import { webContext } from '$lib/web/web-context';

/** What is due, for the calendar program of somebody of the firm: nobody is signed in, the address is the secret. */
export const GET = async ({ params, request, locals }) => {
	const token = /^([\w-]{43})\.ics$/.exec(params.feed)?.[1];
	const { db, limits, settings } = await webContext();
	const found = token ? await findFeed(db, token) : null;
	if (!found) error(404, 'There is nothing here.');
	const text = await inPage(async () => {
		await limits.calendarRead(found.staffId);
		return readCalendar(db, found, locals.actor.now, settings.ORIGIN);
	});
	// when it was made is no change of what it says
	const etag = `"${createHash('sha256')
		.update(text.replace(/^DTSTAMP:.*$/gm, ''))
		.digest('base64url')}"`;
	const headers = { etag, 'cache-control': 'private, no-cache' };
	if (request.headers.get('if-none-match') === etag) return new Response(null, { status: 304, headers });
	return new Response(text, {
		headers: { ...headers, 'content-type': 'text/calendar; charset=utf-8', 'content-disposition': 'inline; filename="what-is-due.ics"' }
	});
};
