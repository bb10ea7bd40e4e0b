import { readStopLink } from '$lib/server/messages/write-message';
import { stopReminders } from '$lib/server/people/sign-in';
import { loadFirm } from '$lib/server/firms/firm';
import { house } from '$lib/server/the-house';

export const load = async ({ params }) => {
	const { db, settings } = await house();
	const messageId = readStopLink(params.link, settings.SECRET_KEY);
	const firmId = messageId && (await db.ask<{ id: string | null }>('select find_firm_of_message($1) as id', [messageId]))[0]?.id;
	return { firmName: firmId ? (await db.inFirm(firmId, loadFirm)).name : null };
};

/** Also what a mail program calls by itself (RFC 8058): no cookie, no origin, the proof is in the link. */
export const actions = {
	default: async ({ params, locals }) => {
		const { db, settings } = await house();
		const messageId = readStopLink(params.link, settings.SECRET_KEY);
		if (messageId) await stopReminders(db, locals.actor, messageId);
		return { done: messageId !== null };
	}
};
