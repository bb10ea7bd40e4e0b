import { z } from 'zod';

/** Characters that reorder or hide text: they can make a name look like another one. */
const DECEIVING = /[\u0000-\u0008\u000b\u000c\u000e-\u001f\u007f\u200b\u200e\u200f\u202a-\u202e\u2060-\u2069\ufeff]/g;

/** Text without characters that reorder or hide it, without outer space. */
export function cleanText(text: string): string {
	return text.replace(DECEIVING, '').trim();
}

/** What is said of an empty and of an overlong text, as keys of the message catalogue: for fields that clients fill in. */
export interface FieldSayings {
	empty: string;
	long: string;
}

function sayings(what: string | FieldSayings, max: number): FieldSayings {
	return typeof what === 'string' ? { empty: `Please write ${what}.`, long: `Please keep ${what} to ${max.toLocaleString('en')} characters.` } : what;
}

/**
 * A required single line.
 * @param what what it is, as it stands in "Please write …", or sayings of its own
 * @param max longest allowed, in UTF-16 units
 */
export function oneLine(what: string | FieldSayings, max: number) {
	const { empty, long } = sayings(what, max);
	return z
		.string()
		.transform((text) => cleanText(text).replace(/\s+/g, ' '))
		.pipe(z.string().min(1, empty).max(max, long));
}

/** An optional single line; empty becomes null. */
export function optionalLine(what: string, max: number) {
	return z
		.string()
		.optional()
		.transform((text) => cleanText(text ?? '').replace(/\s+/g, ' ') || null)
		.pipe(z.string().max(max, sayings(what, max).long).nullable());
}

/** Required text of several lines. */
export function longText(what: string | FieldSayings, max: number) {
	const { empty, long } = sayings(what, max);
	return z
		.string()
		.transform((text) => cleanText(text.replace(/\r\n?/g, '\n')))
		.pipe(z.string().min(1, empty).max(max, long));
}

/** Optional text of several lines; empty becomes null. */
export function optionalText(what: string, max: number) {
	return z
		.string()
		.optional()
		.transform((text) => cleanText((text ?? '').replace(/\r\n?/g, '\n')) || null)
		.pipe(z.string().max(max, sayings(what, max).long).nullable());
}

/** An e-mail address that may follow later; empty becomes null. */
export const optionalEmailField = z
	.string()
	.optional()
	.transform((text) => cleanText(text ?? '') || null)
	.pipe(z.string().max(254, 'wrong.email.long').pipe(z.email('wrong.email.form')).nullable());

/** An e-mail address, trimmed; compared without case everywhere. */
export const emailField = z
	.string()
	.transform((text) => cleanText(text))
	.pipe(z.string().min(1, 'wrong.email.empty').max(254, 'wrong.email.long').pipe(z.email('wrong.email.form')));
