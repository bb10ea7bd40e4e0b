import { fail, redirect } from '@sveltejs/kit';
import { signInSchema } from '$lib/core/people/sign-in';
import { inForm, typedValues } from '$lib/server/form-errors';
import { signIn } from '$lib/server/people/sign-in';
import { setSessionCookie } from '$lib/server/platform/sessions/cookies';
import { house } from '$lib/server/the-house';

export const load = ({ locals }) => {
	if (locals.signedIn) redirect(303, '/desk/rounds');
};

export const actions = {
	default: async ({ request, locals, cookies, url }) => {
		const form = await request.formData();
		return inForm(form, async () => {
			const input = signInSchema.parse(Object.fromEntries(form));
			const { db, limits, clock } = await house();
			const session = await signIn({ db, limits }, locals.actor, 'staff', input, null);
			if (!session)
				return fail(400, {
					problem: {
						message: 'The address and the password do not belong together. Please check both and try again.',
						fields: {},
						values: typedValues(form),
						code: 'invalid'
					}
				});
			setSessionCookie(cookies, 'staff', session.token, session.expiresAt, clock.offsetMs());
			const to = url.searchParams.get('to');
			redirect(303, to?.startsWith('/desk/') ? to : '/desk/rounds');
		});
	}
};
