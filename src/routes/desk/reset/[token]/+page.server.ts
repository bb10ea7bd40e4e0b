import { redirect } from '@sveltejs/kit';
import { DomainError } from '$lib/core/errors/domain-error';
import { inPasswordForm } from '$lib/server/password-problem';
import { findReset, resetPassword } from '$lib/server/people/sign-in';
import { setSessionCookie } from '$lib/server/platform/sessions/cookies';
import { house } from '$lib/server/the-house';

export const load = async ({ params, locals }) => {
	const { db } = await house();
	const reset = await findReset(db, params.token, 'staff', locals.actor.now);
	return { reset: reset && { name: reset.name, email: reset.email }, forgotten: '/desk/forgotten' };
};

export const actions = {
	default: async ({ request, params, locals, cookies }) => {
		const password = String((await request.formData()).get('password') ?? '');
		return inPasswordForm('en', password, async () => {
			const { db, clock } = await house();
			let session;
			try {
				session = await resetPassword(db, locals.actor, 'staff', params.token, password);
			} catch (cause) {
				// the page itself says that the link cannot be used any more
				if (cause instanceof DomainError && cause.code === 'link_unusable') return;
				throw cause;
			}
			setSessionCookie(cookies, 'staff', session.token, session.expiresAt, clock.offsetMs());
			redirect(303, '/desk/rounds');
		});
	}
};
