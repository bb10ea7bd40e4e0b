import { error, fail, redirect } from '@sveltejs/kit';
import { signInSchema } from '$lib/core/people/sign-in';
import { inForm, typedValues } from '$lib/server/form-errors';
import { signIn } from '$lib/server/people/sign-in';
import { setSessionCookie } from '$lib/server/platform/sessions/cookies';
import { house } from '$lib/server/the-house';
import { say } from '$lib/words/words';

export const load = ({ locals, params }) => {
	if (locals.signedIn) redirect(303, `/portal/${params.firm}`);
};

export const actions = {
	default: async ({ request, locals, cookies, url, params }) => {
		const form = await request.formData();
		return inForm(form, async () => {
			const input = signInSchema.parse(Object.fromEntries(form));
			const { db, limits, clock } = await house();
			const firmId = (await db.ask<{ id: string | null }>('select find_firm_by_slug($1) as id', [params.firm]))[0]?.id;
			if (!firmId) error(404, 'There is nothing here.');
			const session = await signIn({ db, limits }, locals.actor, 'contact', input, firmId);
			if (!session) return fail(400, { problem: { message: say('en', 'signIn.wrong'), fields: {}, values: typedValues(form), code: 'invalid' } });
			setSessionCookie(cookies, 'contact', session.token, session.expiresAt, clock.offsetMs());
			const to = url.searchParams.get('to');
			redirect(303, to?.startsWith(`/portal/${params.firm}/`) ? to : `/portal/${params.firm}`);
		});
	}
};
