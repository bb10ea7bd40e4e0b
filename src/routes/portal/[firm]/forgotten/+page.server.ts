import { error } from '@sveltejs/kit';
import { z } from 'zod';
import { emailField } from '$lib/core/people/plain-fields';
import { inForm } from '$lib/server/form-errors';
import { askForReset } from '$lib/server/people/sign-in';
import { house } from '$lib/server/the-house';

const schema = z.object({ email: emailField });

export const actions = {
	default: async ({ request, locals, params }) => {
		const form = await request.formData();
		return inForm(form, async () => {
			const { email } = schema.parse(Object.fromEntries(form));
			const { db, limits } = await house();
			const firmId = (await db.ask<{ id: string | null }>('select find_firm_by_slug($1) as id', [params.firm]))[0]?.id;
			if (!firmId) error(404, 'There is nothing here.');
			await askForReset({ db, limits }, locals.actor, 'contact', email, firmId);
			return { sent: true };
		});
	}
};
