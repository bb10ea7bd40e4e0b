import { fail } from '@sveltejs/kit';
import { sayer } from '$lib/words/words';
import { PasswordRefused } from './people/sign-in';

/** The sentence for a refused password; other errors go on. */
export async function inPasswordForm<T>(locale: string, password: string, work: () => Promise<T>) {
	try {
		return await work();
	} catch (cause) {
		if (!(cause instanceof PasswordRefused)) throw cause;
		return fail(400, { passwordProblem: sayer(locale)(`join.problem.${cause.problem}`, { count: [...password].length }) });
	}
}
