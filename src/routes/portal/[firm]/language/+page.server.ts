import { redirect } from '@sveltejs/kit';
import { languageField } from '$lib/core/people/language-field';
import { firmOfPortal, portalRequest } from '$lib/web/desk-request';
import { inForm } from '$lib/web/form-errors';
import { chooseLanguage } from '$lib/server/people/choose-language';
import { setVisitCookie } from '$lib/web/cookies';

export const load = ({ params }) => redirect(303, `/portal/${params.firm}`);

export const actions = {
	/** The language of this browser, and of whoever is signed in; then back to where they were. */
	default: async (event) => {
		const form = await event.request.formData();
		const { firm, locale } = await firmOfPortal(event);
		return inForm(
			form,
			async () => {
				const language = languageField.parse(form.get('language'));
				setVisitCookie(event.cookies, { language });
				if (event.locals.signedIn) {
					const portal = await portalRequest(event);
					await portal.inFirm((tx) => chooseLanguage(tx, portal.actor, language));
				}
				const home = `/portal/${firm.slug}`;
				const to = String(form.get('to') ?? '');
				redirect(303, to === home || to.startsWith(`${home}/`) ? to : home);
			},
			locale
		);
	}
};
