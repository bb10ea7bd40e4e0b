import { z } from 'zod';

/** Characters that reorder or hide text: they can make a name look like another one. */
const DECEIVING = /[\u0000-\u0008\u000b\u000c\u000e-\u001f\u007f\u200b\u200e\u200f\u202a-\u202e\u2060-\u2069\ufeff]/g;

/** Text without characters that reorder or hide it, without outer space. */
export function cleanText(text: string): string {
	return text.replace(DECEIVING, '').trim();
}

/**
 * A required single line.
 * @param what what it is, as it stands in "Please write …"
 * @param max longest allowed, in UTF-16 units
 */
export function oneLine(what: string, max: number) {
	return z
		.string()
		.transform((text) => cleanText(text).replace(/\s+/g, ' '))
		.pipe(z.string().min(1, `Please write ${what}.`).max(max, `Please keep ${what} to ${max} characters.`));
}

/** An optional single line; empty becomes null. */
export function optionalLine(what: string, max: number) {
	return z
		.string()
		.optional()
		.transform((text) => cleanText(text ?? '').replace(/\s+/g, ' ') || null)
		.pipe(z.string().max(max, `Please keep ${what} to ${max} characters.`).nullable());
}

/** Required text of several lines. */
export function longText(what: string, max: number) {
	return z
		.string()
		.transform((text) => cleanText(text.replace(/\r\n?/g, '\n')))
		.pipe(
			z
				.string()
				.min(1, `Please write ${what}.`)
				.max(max, `Please keep ${what} to ${max.toLocaleString('en')} characters.`)
		);
}

/** Optional text of several lines; empty becomes null. */
export function optionalText(what: string, max: number) {
	return z
		.string()
		.optional()
		.transform((text) => cleanText((text ?? '').replace(/\r\n?/g, '\n')) || null)
		.pipe(
			z
				.string()
				.max(max, `Please keep ${what} to ${max.toLocaleString('en')} characters.`)
				.nullable()
		);
}

/** An e-mail address, trimmed; compared without case everywhere. */
export const emailField = z
	.string()
	.transform((text) => cleanText(text))
	.pipe(
		z
			.string()
			.min(1, 'Please write an e-mail address.')
			.max(254, 'This e-mail address is too long.')
			.pipe(z.email('This does not look like an e-mail address. It needs the form name@domain.'))
	);
