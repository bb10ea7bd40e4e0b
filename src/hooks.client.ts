import type { HandleClientError } from '@sveltejs/kit';

/** As the browsers say it when nothing answers: Chromium, Firefox, Safari. */
const NO_ANSWER = /failed to fetch|networkerror|load failed|importing a module script failed/i;

/** A page that could not be fetched is nobody's fault, and says so; anything else is a fault of ours, and is seen in the browser's console. */
export const handleError: HandleClientError = ({ error: cause, message }) => {
	if (cause instanceof TypeError && NO_ANSWER.test(cause.message)) return { message, unreachable: true };
	console.error(cause);
	return { message };
};
