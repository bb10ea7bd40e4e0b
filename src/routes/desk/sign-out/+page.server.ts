import { redirect } from '@sveltejs/kit';
import { recordEvent } from '$lib/server/audit/record-event';
import { deskRequest } from '$lib/server/desk-request';
import { endSession } from '$lib/server/people/sessions';
import { clearSessionCookie } from '$lib/server/platform/sessions/cookies';

export const load = () => redirect(303, '/desk/rounds');

export const actions = {
	default: async (event) => {
		const desk = await deskRequest(event);
		await desk.inFirm(async (tx) => {
			await endSession(tx, event.locals.signedIn!.sessionId, desk.actor.now);
			await recordEvent(tx, desk.actor, { verb: 'signed_out' });
		});
		clearSessionCookie(event.cookies, 'staff');
		redirect(303, '/desk/sign-in');
	}
};
