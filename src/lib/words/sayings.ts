import type { Saying } from '$lib/core/errors/domain-error';
import en from './en.json';
import { say, type WordKey } from './words';

/** A saying by its key in the catalogue, for what went wrong. */
export function saying(key: WordKey, values: Saying['values'] = {}): Saying {
	return { key, values };
}

/** A sentence as it is, a saying in a reader's language. */
export function inWords(locale: string, what: string | Saying): string {
	return typeof what === 'string' ? what : say(locale, what.key as WordKey, what.values);
}

/**
 * The message of a schema in a reader's language: schemas of what clients write name a sentence of the catalogue,
 * which may tell the limit as `{max}`.
 */
export function issueInWords(locale: string, issue: { message: string; maximum?: unknown; params?: Record<string, unknown> }): string {
	if (!(issue.message in en)) return issue.message;
	const values = { max: Number(issue.maximum ?? 0), ...(issue.params as Saying['values']) };
	// a part of a whole has its own sentence within that of the whole
	if ('problem' in values) values.problem = issueInWords(locale, { ...issue, message: String(values.problem), params: { ...values, problem: '' } });
	return say(locale, issue.message as WordKey, values);
}
