import { fail, redirect, type Cookies } from '@sveltejs/kit';
import { DomainError } from '$lib/core/errors/domain-error';
import { sayer } from '$lib/words/words';
import { findReset, PasswordRefused, resetPassword } from './people/sign-in';
import { setSessionCookie } from './platform/sessions/cookies';
import { house } from './the-house';

/** The sentence for a refused password; other errors go on. */
export async function inPasswordForm<T>(locale: string, password: string, work: () => Promise<T>) {
	try {
		return await work();
	} catch (cause) {
		if (!(cause instanceof PasswordRefused)) throw cause;
		return fail(400, { passwordProblem: sayer(locale)(`join.problem.${cause.problem}`, { count: [...password].length }) });
	}
}

interface ResetPage {
	kind: 'staff' | 'contact';
	locale: string;
	/** where somebody signed in goes */
	home: string;
}

/** What the page behind a reset link shows: whose password it is, or nothing if the link cannot be used. */
export async function loadReset(event: { params: { token: string }; locals: App.Locals }, kind: ResetPage['kind']) {
	const { db } = await house();
	const reset = await findReset(db, event.params.token, kind, event.locals.actor.now);
	return { reset: reset && { name: reset.name, email: reset.email } };
}

/** Sets the new password, signs in and goes home. */
export async function doReset(event: { params: { token: string }; locals: App.Locals; request: Request; cookies: Cookies }, page: ResetPage) {
	const password = String((await event.request.formData()).get('password') ?? '');
	return inPasswordForm(page.locale, password, async () => {
		const { db, clock } = await house();
		let session;
		try {
			session = await resetPassword(db, event.locals.actor, page.kind, event.params.token, password);
		} catch (cause) {
			// the page itself says that the link cannot be used any more
			if (cause instanceof DomainError && cause.code === 'link_unusable') return;
			throw cause;
		}
		setSessionCookie(event.cookies, page.kind, session.token, session.expiresAt, clock.offsetMs());
		redirect(303, page.home);
	});
}
