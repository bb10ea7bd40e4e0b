/** Asks whoever is signed out to sign in again; true once the same person is in. */
type Ask = () => Promise<boolean>;
let ask: Ask | null = null;
let asking: Promise<boolean> | null = null;

/** Tells how this side of the product asks somebody to sign in again, without leaving the page. @returns what ends it */
export function offerSignIn(how: Ask): () => void {
	ask = how;
	return () => {
		if (ask === how) ask = null;
	};
}

/** Asks for it once, however many requests were refused; false if nobody can be asked here or the person leaves it. */
export function signInAgain(): Promise<boolean> {
	asking ??= (ask?.() ?? Promise.resolve(false)).finally(() => (asking = null));
	return asking;
}

/** Whether a request of a page goes to somewhere that only people who are signed in may reach. */
const isOurs = (input: RequestInfo | URL): boolean => {
	const url = new URL(input instanceof Request ? input.url : input, location.href);
	return url.origin === location.origin && !url.pathname.includes('/sign-in');
};

/**
 * From now on a request that is refused because nobody is signed in any more waits until they are, and is then sent as it was: what
 * somebody typed goes where it was meant to go. It is one place for forms, drafts, files and whatever a page asks while it stands open.
 */
export function waitForSignIn(): void {
	const send = window.fetch;
	window.fetch = async (input, init) => {
		const answer = await send(input, init);
		if (answer.status !== 401 || !ask || !isOurs(input) || input instanceof Request) return answer;
		return (await signInAgain()) ? send(input, init) : answer;
	};
}
