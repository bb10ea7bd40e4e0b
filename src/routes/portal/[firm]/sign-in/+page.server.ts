import { redirect } from '@sveltejs/kit';
import { DomainError } from '$lib/core/errors/domain-error';
import { signInSchema } from '$lib/core/people/sign-in';
import { firmOfPortal } from '$lib/server/desk-request';
import { inForm } from '$lib/server/form-errors';
import { signIn } from '$lib/server/people/sign-in';
import { setSessionCookie } from '$lib/server/platform/sessions/cookies';
import { saying } from '$lib/words/sayings';

export const load = ({ locals, params }) => {
	if (locals.signedIn) redirect(303, `/portal/${params.firm}`);
};

export const actions = {
	default: async (event) => {
		const form = await event.request.formData();
		const { house, firm, locale } = await firmOfPortal(event);
		return inForm(
			form,
			async () => {
				const session = await signIn(house, event.locals.actor, 'contact', signInSchema.parse(Object.fromEntries(form)), firm.id);
				if (!session) throw new DomainError('invalid', saying('signIn.wrong'));
				setSessionCookie(event.cookies, 'contact', session.token, session.expiresAt, house.clock.offsetMs());
				const to = event.url.searchParams.get('to');
				redirect(303, to?.startsWith(`/portal/${event.params.firm}/`) ? to : `/portal/${event.params.firm}`);
			},
			locale
		);
	}
};
