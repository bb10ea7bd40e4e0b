import { z } from 'zod';
import { emailField } from '$lib/core/people/plain-fields';
import { inForm } from '$lib/server/form-errors';
import { askForReset } from '$lib/server/people/sign-in';
import { house } from '$lib/server/the-house';

const schema = z.object({ email: emailField });

export const actions = {
	default: async ({ request, locals }) => {
		const form = await request.formData();
		return inForm(form, async () => {
			const { email } = schema.parse(Object.fromEntries(form));
			const { db, limits } = await house();
			await askForReset({ db, limits }, locals.actor, 'staff', email, null);
			return { sent: true };
		});
	}
};
