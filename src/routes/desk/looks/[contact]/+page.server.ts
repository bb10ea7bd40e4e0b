import { redirect } from '@sveltejs/kit';
import { deskRequest } from '$lib/web/desk-request';
import { idParam, inForm } from '$lib/web/form-errors';
import { beginPortalLook, endPortalLooks, PORTAL_LOOK_MINUTES } from '$lib/server/people/look-as';
import { clearPortalLookCookie, setPortalLookCookie } from '$lib/web/cookies';

export const load = () => redirect(303, '/desk/clients');

export const actions = {
	/** Opens the portal as the contact sees it. */
	begin: async (event) => {
		const form = await event.request.formData();
		return inForm(form, async () => {
			const desk = await deskRequest(event);
			const { token, slug } = await desk.inFirm(async (tx, firm) => ({
				token: await beginPortalLook(tx, desk.actor, idParam(event.params.contact), event.locals.signedIn!.sessionId),
				slug: firm.slug
			}));
			setPortalLookCookie(event.cookies, token, PORTAL_LOOK_MINUTES * 60);
			redirect(303, `/portal/${slug}`);
		});
	},
	/** Comes back to the desk. */
	end: async (event) => {
		const desk = await deskRequest(event);
		await desk.inFirm((tx) => endPortalLooks(tx, desk.actor));
		clearPortalLookCookie(event.cookies);
		redirect(303, '/desk/clients');
	}
};
