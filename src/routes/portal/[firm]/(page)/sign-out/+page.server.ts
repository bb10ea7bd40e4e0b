import { redirect } from '@sveltejs/kit';
import { recordEvent } from '$lib/server/audit/record-event';
import { portalRequest } from '$lib/web/desk-request';
import { endSession } from '$lib/server/people/sessions';
import { clearSessionCookie } from '$lib/web/cookies';

export const load = ({ params }) => redirect(303, `/portal/${params.firm}`);

export const actions = {
	default: async (event) => {
		const portal = await portalRequest(event);
		await portal.inFirm(async (tx) => {
			await endSession(tx, event.locals.signedIn!.sessionId, portal.actor.now);
			await recordEvent(tx, portal.actor, { verb: 'signed_out', contactId: portal.contactId });
		});
		clearSessionCookie(event.cookies, 'contact');
		redirect(303, `/portal/${event.params.firm}/sign-in`);
	}
};
