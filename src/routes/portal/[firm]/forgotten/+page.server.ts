import { resetAskSchema } from '$lib/core/people/sign-in';
import { firmOfPortal } from '$lib/server/desk-request';
import { inForm } from '$lib/server/form-errors';
import { askForReset } from '$lib/server/people/sign-in';

export const actions = {
	default: async (event) => {
		const form = await event.request.formData();
		const { house, firm, locale } = await firmOfPortal(event);
		return inForm(
			form,
			async () => {
				await askForReset(house, event.locals.actor, 'contact', resetAskSchema.parse(Object.fromEntries(form)).email, firm.id);
				return { sent: true };
			},
			locale
		);
	}
};
