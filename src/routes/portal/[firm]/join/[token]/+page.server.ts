import { redirect } from '@sveltejs/kit';
import { DomainError } from '$lib/core/errors/domain-error';
import { openInvitation, takeUpInvitation } from '$lib/server/invitations/invite';
import { inPasswordForm } from '$lib/server/password-form';
import { setSessionCookie } from '$lib/server/platform/sessions/cookies';
import { firmOfPortal } from '$lib/server/desk-request';
import { house } from '$lib/server/the-house';

export const load = async ({ params, locals }) => {
	const { db } = await house();
	const seen = await openInvitation(db, locals.actor, params.token);
	if (!seen || seen.firmSlug !== params.firm) return { state: 'unknown' as const };
	return { state: seen.state, name: seen.name, email: seen.state === 'sent' ? seen.email : '', inviteeLocale: seen.locale };
};

export const actions = {
	default: async (event) => {
		const { params, locals, cookies } = event;
		const password = String((await event.request.formData()).get('password') ?? '');
		const { house, locale } = await firmOfPortal(event);
		const { db, clock } = house;
		return inPasswordForm(locale, password, async () => {
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
