import { readStopLink } from '$lib/server/messages/links';
import { readStopPage, startRemindersOf, stopReminders } from '$lib/server/people/stop-reminders';
import { webContext } from '$lib/web/web-context';

export const load = async ({ params }) => {
	const { db, settings } = await webContext();
	const messageId = readStopLink(params.link, settings.SECRET_KEY);
	return (messageId && (await readStopPage(db, messageId))) || { firmName: null, locale: 'en', stopped: false };
};

/** Also what a mail program calls by itself (RFC 8058): no cookie, no origin, the proof is in the link. */
export const actions = {
	default: async ({ params, locals, request }) => {
		const { db, settings } = await webContext();
		const messageId = readStopLink(params.link, settings.SECRET_KEY);
		if (!messageId) return { started: false };
		const starts = (await request.formData()).get('start') === 'yes';
		await (starts ? startRemindersOf : stopReminders)(db, locals.actor, messageId);
		return { started: starts };
	}
};
