import Bowser from 'bowser';

/** A browser by what it says of itself, such as "Firefox on Linux"; null if it says nothing we know. */
export function deviceInWords(userAgent: string): { browser: string; system: string } | null {
	if (!userAgent) return null;
	const parsed = Bowser.parse(userAgent);
	const browser = parsed.browser.name;
	const system = parsed.os.name;
	return browser && system ? { browser, system } : null;
}
