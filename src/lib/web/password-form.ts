import { fail, type Cookies } from '@sveltejs/kit';
import { DomainError } from '$lib/core/errors/domain-error';
import { sayer } from '$lib/words/words';
import { findReset, PasswordRefused, resetPassword } from '$lib/server/people/change-password';
import { browserOf, follow, type Door } from './sign-in-forms';
import { webContext } from './web-context';

/** The sentence for a refused password; other errors go on. */
export async function inPasswordForm<T>(locale: string, password: string, work: () => Promise<T>) {
	try {
		return await work();
	} catch (cause) {
		if (!(cause instanceof PasswordRefused)) throw cause;
		return fail(400, { passwordProblem: sayer(locale)(`join.problem.${cause.problem}`, { count: [...password].length }) });
	}
}

/** What the page behind a reset link shows: whose password it is, or nothing if the link cannot be used. */
export async function loadReset(event: { params: { token: string }; locals: App.Locals }, kind: Door['kind']) {
	const { db } = await webContext();
	const reset = await findReset(db, event.params.token, kind, event.locals.actor.now);
	return { reset: reset && { name: reset.name, email: reset.email } };
}

/** Sets the new password and takes the first step of signing in. */
export async function doReset(event: { params: { token: string }; locals: App.Locals; request: Request; cookies: Cookies; url: URL }, door: Door) {
	const password = String((await event.request.formData()).get('password') ?? '');
	return inPasswordForm(door.locale, password, async () => {
		let outcome;
		try {
			outcome = await resetPassword(door.context.db, event.locals.actor, door.kind, event.params.token, password, browserOf(event.cookies, door));
		} catch (cause) {
			// the page itself says that the link cannot be used any more
			if (cause instanceof DomainError && cause.code === 'link_unusable') return;
			throw cause;
		}
		await follow(event, door, outcome);
	});
}
