import { resetAskSchema } from '$lib/core/people/sign-in';
import { firmOfPortal } from '$lib/web/desk-request';
import { inForm } from '$lib/web/form-errors';
import { askForReset } from '$lib/server/people/change-password';

export const actions = {
	default: async (event) => {
		const form = await event.request.formData();
		const { context, firm, locale } = await firmOfPortal(event);
		return inForm(
			form,
			async () => {
				await askForReset(context, event.locals.actor, 'contact', resetAskSchema.parse(Object.fromEntries(form)).email, firm.id);
				return { sent: true };
			},
			locale
		);
	}
};
