import { redirect } from '@sveltejs/kit';
import { DomainError } from '$lib/core/errors/domain-error';
import { signInSchema } from '$lib/core/people/sign-in';
import { hasFirm } from '$lib/server/firms/set-up-firm';
import { inForm } from '$lib/server/form-errors';
import { signIn } from '$lib/server/people/sign-in';
import { setSessionCookie } from '$lib/server/platform/sessions/cookies';
import { saying } from '$lib/words/sayings';
import { house } from '$lib/server/the-house';

export const load = async ({ locals }) => {
	if (locals.signedIn) redirect(303, '/desk/rounds');
	if (!(await hasFirm((await house()).db))) redirect(303, '/desk/set-up');
};

export const actions = {
	default: async ({ request, locals, cookies, url }) => {
		const form = await request.formData();
		return inForm(form, async () => {
			const opened = await house();
			const session = await signIn(opened, locals.actor, 'staff', signInSchema.parse(Object.fromEntries(form)), null);
			if (!session) throw new DomainError('invalid', saying('signIn.wrong'));
			setSessionCookie(cookies, 'staff', session.token, session.expiresAt, opened.clock.offsetMs());
			const to = url.searchParams.get('to');
			redirect(303, to?.startsWith('/desk/') ? to : '/desk/rounds');
		});
	}
};
