import { error, redirect } from '@sveltejs/kit';
import { setUpSchema } from '$lib/core/firms/firm-forms';
import { REGION_CHOICES } from '$lib/words/regions';
import { saying } from '$lib/words/sayings';
import { hasFirm, setUpFirm } from '$lib/server/set-up/set-up-firm';
import { inForm } from '$lib/web/form-errors';
import { PasswordRefused } from '$lib/server/people/change-password';
import { DomainError } from '$lib/core/errors/domain-error';
import { setSessionCookie } from '$lib/web/cookies';
import { webContext } from '$lib/web/web-context';

/** Once there is a firm this place does not exist. */
async function requireNoFirm() {
	if (await hasFirm((await webContext()).db)) error(404, 'There is nothing here.');
}

export const load = async ({ url }) => {
	await requireNoFirm();
	return {
		code: url.searchParams.get('code') ?? '',
		...REGION_CHOICES
	};
};

export const actions = {
	default: async ({ request, locals, cookies }) => {
		await requireNoFirm();
		const form = await request.formData();
		return inForm(form, async () => {
			const { db, limits, clock, settings } = await webContext();
			await limits.signInTry('set-up', locals.actor.ip);
			const input = setUpSchema.parse(Object.fromEntries(form));
			const session = await setUpFirm({ db }, locals.actor, input, settings.SECRET_KEY).catch((cause: unknown) => {
				if (cause instanceof PasswordRefused) {
					const what = saying(`join.problem.${cause.problem}`, { count: [...input.password].length });
					throw new DomainError('invalid', what, { password: what });
				}
				throw cause;
			});
			setSessionCookie(cookies, 'staff', session.token, session.expiresAt, clock.offsetMs());
			redirect(303, '/desk/firm');
		});
	}
};
