import { readStopLink } from '$lib/server/messages/links';
import { startRemindersOf, stopReminders } from '$lib/server/people/sign-in';
import { loadFirm } from '$lib/server/firms/firm';
import { house } from '$lib/server/the-house';

export const load = async ({ params }) => {
	const { db, settings } = await house();
	const messageId = readStopLink(params.link, settings.SECRET_KEY);
	const firmId = messageId && (await db.ask<{ id: string | null }>('select find_firm_of_message($1) as id', [messageId]))[0]?.id;
	if (!firmId) return { firmName: null, locale: 'en', stopped: false };
	return db.inFirm(firmId, async (tx) => {
		const reader = await tx.first<{ locale: string; stopped: boolean }>(
			`select c.locale, c.mail_problem is not distinct from 'opted_out' stopped from message m join contact c on c.id = m.contact_id where m.id = $1`,
			[messageId]
		);
		return { firmName: (await loadFirm(tx)).name, locale: reader?.locale ?? 'en', stopped: reader?.stopped ?? false };
	});
};

/** Also what a mail program calls by itself (RFC 8058): no cookie, no origin, the proof is in the link. */
export const actions = {
	default: async ({ params, locals, request }) => {
		const { db, settings } = await house();
		const messageId = readStopLink(params.link, settings.SECRET_KEY);
		if (!messageId) return { started: false };
		const starts = (await request.formData()).get('start') === 'yes';
		await (starts ? startRemindersOf : stopReminders)(db, locals.actor, messageId);
		return { started: starts };
	}
};
