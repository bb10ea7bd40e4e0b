import { redirect } from '@sveltejs/kit';
import { DomainError } from '$lib/core/errors/domain-error';
import { openInvitation, takeUpInvitation } from '$lib/server/invitations/invite';
import { inPasswordForm } from '$lib/server/password-problem';
import { setSessionCookie } from '$lib/server/platform/sessions/cookies';
import { house } from '$lib/server/the-house';

export const load = async ({ params, locals }) => {
	const { db } = await house();
	const seen = await openInvitation(db, locals.actor, params.token);
	if (!seen || seen.firmSlug !== params.firm) return { state: 'unknown' as const };
	return { state: seen.state, name: seen.name, email: seen.state === 'sent' ? seen.email : '', inviteeLocale: seen.locale };
};

export const actions = {
	default: async ({ request, params, locals, cookies }) => {
		const form = await request.formData();
		const password = String(form.get('password') ?? '');
		return inPasswordForm('en', password, async () => {
			const { db, clock } = await house();
			let session;
			try {
				session = await takeUpInvitation(db, locals.actor, params.token, password);
			} catch (cause) {
				// the page itself says what became of the link
				if (cause instanceof DomainError && cause.code === 'link_unusable') redirect(303, `/portal/${params.firm}/join/${params.token}`);
				throw cause;
			}
			setSessionCookie(cookies, 'contact', session.token, session.expiresAt, clock.offsetMs());
			redirect(303, `/portal/${session.firmSlug}`);
		});
	}
};
