import { AsyncLocalStorage } from 'node:async_hooks';

/** Why what a request asked for was not done. An answer to a form has the status of one that went well, so the log is told apart from it. */
const noted = new AsyncLocalStorage<{ code?: string }>();

/** Notes a refusal for the log of the request under way. */
export function noteRefusal(code: string): void {
	const request = noted.getStore();
	if (request) request.code = code;
}

/** Runs one request. @returns its answer; `refused` tells why something was refused in it, also when it threw */
export function withRefusals<T>(work: (refused: () => string | undefined) => Promise<T>): Promise<T> {
	const request: { code?: string } = {};
	return noted.run(request, () => work(() => request.code));
}
