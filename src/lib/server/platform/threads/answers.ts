import { DomainError } from '$lib/core/errors/domain-error';

/** What comes back from a thread: a person's mistake crosses as a value, since classes do not survive the way. */
export type ThreadAnswer<Result> = { result: Result } | { mistake: { code: DomainError['code']; message: string } };

/** Runs a task within a thread. A bug is thrown on, and ends the task loudly. */
export async function answerOf<Result>(work: () => Result | Promise<Result>): Promise<ThreadAnswer<Result>> {
	try {
		return { result: await work() };
	} catch (error) {
		if (error instanceof DomainError) return { mistake: { code: error.code, message: error.message } };
		throw error;
	}
}
