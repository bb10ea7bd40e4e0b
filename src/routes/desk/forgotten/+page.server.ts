import { resetAskSchema } from '$lib/core/people/sign-in';
import { inForm } from '$lib/web/form-errors';
import { askForReset } from '$lib/server/people/change-password';
import { webContext } from '$lib/web/web-context';

export const actions = {
	default: async ({ request, locals }) => {
		const form = await request.formData();
		return inForm(form, async () => {
			await askForReset(await webContext(), locals.actor, 'staff', resetAskSchema.parse(Object.fromEntries(form)).email, null);
			return { sent: true };
		});
	}
};
