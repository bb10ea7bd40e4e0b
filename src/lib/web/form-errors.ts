import { error, fail, isHttpError, isRedirect, type ActionFailure } from '@sveltejs/kit';
import { z } from 'zod';
import { DomainError, type Saying } from '$lib/core/errors/domain-error';
import { FIELDS_MAX } from '$lib/core/requests/typed';
import { inWords, issueInWords } from '$lib/words/sayings';
import { noteRefusal } from './refusals';

/** What a form shows after a refusal: what was wrong and where, and what was typed. */
export interface FormProblem {
	message: string;
	fields: Record<string, string>;
	values: Record<string, string>;
	/** of fields of which several were filled in or ticked, all of them */
	several?: Record<string, string[]>;
	code: string;
	/** what stands there by now, where somebody was faster: as `DomainError` has it */
	stands?: string;
}

export const STATUS: Record<DomainError['code'], number> = {
	not_found: 404,
	not_allowed: 403,
	changed_meanwhile: 409,
	invalid: 400,
	too_many: 429,
	unfilled_fields: 400,
	link_unusable: 410,
	unreadable_file: 415,
	storage_full: 507
};

/** Most fields whose words come back to a form that was refused. */
const ECHOED_MOST = 200;
/** Characters that are echoed at most: whoever sends more still has it on their page. */
const ECHOED_LENGTH = 200_000;

/** The typed values of a form, without files and passwords; only of fields with names as ours have them. */
export function typedValues(form: FormData): Record<string, string> {
	const values: Record<string, string> = {};
	let [echoed, length] = [0, 0];
	for (const [name, value] of form) {
		if (typeof value !== 'string' || !/^[A-Za-z][\w.:-]{0,60}$/.test(name) || /password/i.test(name)) continue;
		if (echoed++ >= ECHOED_MOST || length + value.length > ECHOED_LENGTH) continue;
		length += value.length;
		values[name] = value;
	}
	return values;
}

/** What a field of a form holds: one value, or all of them where several are ticked. */
const severalOf = (form: FormData, name: string): unknown => (form.getAll(name).length > 1 ? form.getAll(name) : (form.get(name) ?? ''));
/** What was typed into a form, by field. */
export const typedForm = (form: FormData): Record<string, unknown> =>
	Object.fromEntries([...new Set(form.keys())].slice(0, FIELDS_MAX).map((name) => [name, severalOf(form, name)]));

/** All that was typed or ticked in those fields of a form that stand there several times; as far as it is echoed. */
function typedSeveral(form: FormData, echoed: Record<string, string>): Record<string, string[]> {
	return Object.fromEntries(
		Object.keys(echoed).flatMap((name) => {
			const all = form.getAll(name).filter((value) => typeof value === 'string');
			return all.length > 1 && all.length <= ECHOED_MOST ? [[name, all.filter((value) => value !== '')]] : [];
		})
	);
}

const echo = (form: FormData): Pick<FormProblem, 'values' | 'several'> => {
	const values = typedValues(form);
	return { values, several: typedSeveral(form, values) };
};

/** How deep lists and objects may stand in each other; ours are at most a dozen deep. */
const NESTED_MOST = 100;

/** Whether a text in JSON nests deeper than that: what is nested by the hundred thousand takes the parser a hundred times as long. */
function nestsTooDeep(text: string): boolean {
	let depth = 0;
	for (let at = 0; at < text.length; at++) {
		const sign = text[at];
		if (sign === '"') {
			do {
				at = text.indexOf('"', at + 1);
				if (at < 0) return false;
			} while (isEscaped(text, at));
		} else if (sign === '[' || sign === '{') {
			if (++depth > NESTED_MOST) return true;
		} else if (sign === ']' || sign === '}') depth--;
	}
	return false;
}
/** Whether an odd number of backslashes stands before a sign. */
function isEscaped(text: string, at: number): boolean {
	let before = at;
	while (text[before - 1] === '\\') before--;
	return (at - before) % 2 === 1;
}

/**
 * What a field of a form holds as JSON, not yet checked.
 * @param most characters that are taken
 * @throws DomainError invalid, in the words of `refusal`, if it is missing, too long, cut off or nested beyond all sense
 */
export function jsonField(form: FormData, name: string, most: number, refusal: string | Saying): unknown {
	try {
		const text = z.string().max(most).parse(form.get(name));
		if (!nestsTooDeep(text)) return JSON.parse(text);
	} catch {
		// cut off, too long, or not there: said below
	}
	throw new DomainError('invalid', refusal);
}

/** Messages by field path, first one each, in a reader's language. */
export function fieldMessages(problem: z.ZodError, locale: string): Record<string, string> {
	const fields: Record<string, string> = {};
	for (const issue of problem.issues) fields[issue.path.join('.')] ??= issueInWords(locale, issue);
	return fields;
}

/**
 * Runs what a form asks for. A person's mistake comes back as a failure with what they typed; a bug goes on.
 * @param locale the reader's; the desk speaks English
 */
export async function inForm<T>(form: FormData, work: () => Promise<T>, locale = 'en'): Promise<T | ActionFailure<{ problem: FormProblem }>> {
	try {
		return await work();
	} catch (cause) {
		if (isRedirect(cause) || isHttpError(cause)) throw cause;
		if (cause instanceof z.ZodError) {
			const fields = fieldMessages(cause, locale);
			return fail(400, { problem: { message: Object.values(fields)[0], fields, ...echo(form), code: 'invalid' } });
		}
		if (cause instanceof DomainError) {
			noteRefusal(cause.code);
			return fail(STATUS[cause.code], {
				problem: { ...errorInWords(locale, cause), ...echo(form), code: cause.code, stands: cause.stands }
			});
		}
		throw cause;
	}
}

/** What is wrong and where, in a reader's language. */
export function errorInWords(locale: string, error: DomainError): { message: string; fields: Record<string, string> } {
	return {
		message: inWords(locale, error.what),
		fields: Object.fromEntries(Object.entries(error.fields).map(([field, what]) => [field, inWords(locale, what)]))
	};
}

/** Runs what a page or file asks for; a person's mistake becomes its HTTP answer. */
export async function inPage<T>(work: () => Promise<T>, locale = 'en'): Promise<T> {
	try {
		return await work();
	} catch (cause) {
		if (cause instanceof DomainError) {
			noteRefusal(cause.code);
			error(STATUS[cause.code], inWords(locale, cause.what));
		}
		throw cause;
	}
}

const uuid = z.uuid();

/** An id from an address. @throws 404 if it is none */
export function idParam(value: string | undefined): string {
	const parsed = uuid.safeParse(value);
	if (!parsed.success) error(404, 'There is nothing here.');
	return parsed.data;
}
