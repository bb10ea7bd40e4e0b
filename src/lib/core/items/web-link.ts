import { z } from 'zod';

/** The address of a page, or nothing. */
export const webLink = z
	.string()
	.trim()
	.max(500)
	.refine((text) => text === '' || isWebAddress(text), 'Write the whole address, beginning with https://.');

function isWebAddress(text: string): boolean {
	try {
		const url = new URL(text);
		return (url.protocol === 'https:' || url.protocol === 'http:') && url.hostname.includes('.') && !url.username && !url.password;
	} catch {
		return false;
	}
}
