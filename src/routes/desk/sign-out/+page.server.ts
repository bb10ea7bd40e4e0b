import { redirect } from '@sveltejs/kit';
import { recordEvent } from '$lib/server/audit/record-event';
import { deskRequest } from '$lib/web/desk-request';
import { endSession, resumeSession } from '$lib/server/people/sessions';
import { clearPracticeCookie, clearSessionCookie, readSessionCookie } from '$lib/web/cookies';

export const load = () => redirect(303, '/desk/rounds');

export const actions = {
	default: async (event) => {
		const desk = await deskRequest(event);
		await desk.inFirm(async (tx) => {
			await endSession(tx, event.locals.signedIn!.sessionId, desk.actor.now);
			await recordEvent(tx, desk.actor, { verb: 'signed_out' });
		});
		// from within practice, the real session ends too
		const token = readSessionCookie(event.cookies, 'staff');
		const real = event.locals.signedIn!.practiceOf && token ? await resumeSession(desk.context.db, token, 'staff', desk.actor.now) : null;
		if (real) await desk.context.db.inFirm(real.firmId, (tx) => endSession(tx, real.sessionId, desk.actor.now));
		clearPracticeCookie(event.cookies);
		clearSessionCookie(event.cookies, 'staff');
		redirect(303, '/desk/sign-in');
	}
};
