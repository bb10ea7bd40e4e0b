import { resetAskSchema } from '$lib/core/people/sign-in';
import { inForm } from '$lib/server/form-errors';
import { askForReset } from '$lib/server/people/sign-in';
import { house } from '$lib/server/the-house';

export const actions = {
	default: async ({ request, locals }) => {
		const form = await request.formData();
		return inForm(form, async () => {
			await askForReset(await house(), locals.actor, 'staff', resetAskSchema.parse(Object.fromEntries(form)).email, null);
			return { sent: true };
		});
	}
};
