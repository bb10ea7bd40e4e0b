import { z } from 'zod';
import type { Saying } from '../errors/domain-error';
import { plainNumber } from '../items/answers';
import { phoneField } from '../people/phone';
import { cleanText } from '../people/plain-fields';
import { decimalsOf } from '../firms/currency';
import { FACT_KIND_WORDS, type FactChoice, type FactColumn, type FactDefinition, type FactKind, type SingleFactKind } from './fact-definition';
import { TAX_NUMBER_CHECKS, taxNumber } from './tax-numbers';

const DAYS_IN_MONTH = [31, 29, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31];
/** Most rows of a table. */
export const ROWS_MAX = 200;
const ADDRESS_MAX = 300;

/** Clients fill facts in too: what is wrong is named by keys of the catalogue. */
const EMPTY = 'wrong.answer.empty';
const LONG = 'wrong.answer.long';

/** What of a firm a value is read by. */
export interface FactPlace {
	/** where a phone number without a country code belongs (ISO 3166-1 alpha-2) */
	country: string;
}

const schemas = new WeakMap<FactKind, Map<string, z.ZodType<string, unknown>>>();

/**
 * The schema of a fact as it is typed in a form or stands in the cell of a list. The result is the one spelling in which it is kept,
 * which reads as itself: numbers with a point, dates as `YYYY-MM-DD`, choices by their keys, several of them and tables as JSON.
 */
export function factSchema({ is }: Pick<FactDefinition, 'is'>, { country }: FactPlace): z.ZodType<string, unknown> {
	let known = schemas.get(is);
	if (!known) schemas.set(is, (known = new Map()));
	let schema = known.get(country);
	if (!schema) known.set(country, (schema = is.kind === 'table' ? tableSchema(is.columns, country) : singleSchema(is, country)));
	return schema;
}

const typedText = (most: number) => z.string(EMPTY).max(most * 4 + 40, LONG);
const oneLineOf = (max: number) =>
	typedText(max)
		.transform((text) => cleanText(text).replace(/\s+/g, ' '))
		.pipe(z.string().min(1, EMPTY).max(max, LONG));
const linesOf = (max: number) =>
	typedText(max)
		.transform((text) => cleanText(text.replace(/\r\n?/g, '\n')))
		.pipe(z.string().min(1, EMPTY).max(max, LONG));

/** A choice by its key or its words, in any case. */
const choiceOf = (choices: readonly FactChoice[], text: string): string | undefined =>
	(choices.find(({ key }) => key === text) ?? choices.find(({ words }) => words.toLowerCase() === text.trim().toLowerCase()))?.key;

function singleSchema(is: SingleFactKind, country: string): z.ZodType<string, unknown> {
	switch (is.kind) {
		case 'words':
			return oneLineOf(is.max);
		case 'lines':
			return linesOf(is.max);
		case 'address':
			return linesOf(ADDRESS_MAX);
		case 'yes_no':
			return z
				.string('wrong.answer.choose')
				.transform((text) => text.trim().toLowerCase())
				.pipe(z.enum(['yes', 'no'], 'wrong.answer.choose'));
		case 'number':
			return is.whole
				? z
						.string('wrong.answer.whole')
						.trim()
						.regex(/^\d{1,9}$/, 'wrong.answer.whole')
						.transform((text) => String(Number(text)))
				: numberOf(6, 'wrong.answer.number').transform((text) => String(Number(text)));
		case 'money': {
			const digits = decimalsOf(is.currency);
			return numberOf(digits, digits === 0 ? 'wrong.answer.wholeMoney' : 'wrong.answer.money').transform((text) => Number(text).toFixed(digits));
		}
		case 'date':
			return z.iso.date('wrong.answer.date');
		case 'day_of_year':
			return z
				.string('wrong.answer.day')
				.transform((text) => /^\d{4}-(\d\d-\d\d)$/.exec(text)?.[1] ?? text)
				.pipe(
					z
						.string()
						.regex(/^(0[1-9]|1[0-2])-(0[1-9]|[12]\d|3[01])$/, 'wrong.answer.day')
						.refine((text) => Number(text.slice(3)) <= DAYS_IN_MONTH[Number(text.slice(0, 2)) - 1], 'wrong.answer.noSuchDay')
				);
		case 'choice':
			return z.string('wrong.answer.choose').transform((text, context) => {
				const key = choiceOf(is.choices, text);
				if (key) return key;
				context.addIssue({ code: 'custom', message: 'wrong.answer.choose' });
				return z.NEVER;
			});
		case 'several':
			return z.union([z.array(z.string()).max(200), z.string()], 'wrong.answer.choose').transform((typed, context) => {
				const keys = (typeof typed === 'string' ? listOf(typed) : typed).map((text) => choiceOf(is.choices, text));
				if (keys.length > 0 && keys.every((key) => key !== undefined))
					return JSON.stringify(is.choices.map(({ key }) => key).filter((key) => keys.includes(key)));
				context.addIssue({ code: 'custom', message: 'wrong.answer.choose' });
				return z.NEVER;
			});
		case 'email':
			return oneLineOf(254).pipe(z.email('wrong.email.form'));
		case 'phone':
			return phoneField(country, 'wrong.phone').pipe(z.string(EMPTY));
		case 'web':
			return oneLineOf(300).transform((text, context) => {
				const address = webAddress(text);
				if (address) return address;
				context.addIssue({ code: 'custom', message: 'wrong.answer.web' });
				return z.NEVER;
			});
		case 'tax_number':
			return oneLineOf(40).transform((text, context) => {
				const number = taxNumber(is.check, text);
				if (number !== null) return number;
				context.addIssue({
					code: 'custom',
					message: 'wrong.answer.taxNumber',
					params: { kind: TAX_NUMBER_CHECKS[is.check] }
				});
				return z.NEVER;
			});
	}
}

function numberOf(decimals: number, wrong: string): z.ZodType<string, unknown> {
	const form = new RegExp(decimals === 0 ? '^-?\\d{1,15}$' : `^-?\\d{1,15}(\\.\\d{1,${decimals}})?$`);
	return z
		.string(wrong)
		.trim()
		.max(40, wrong)
		.transform((text) => plainNumber(text) ?? '')
		.pipe(z.string().regex(form, wrong));
}

/** `https://` is added where nothing is said; other schemes than http are none of ours. */
function webAddress(text: string): string | null {
	const whole = /^[a-z][a-z0-9+.-]*:/i.test(text) ? text : `https://${text}`;
	if (!/^https?:\/\/[^\s.]+\.[^\s]+$/i.test(whole) || !URL.canParse(whole)) return null;
	const { protocol, username } = new URL(whole);
	return /^https?:$/.test(protocol) && username === '' ? whole : null;
}

/** Several values in one text: as kept, or parted by semicolons, bars, lines or commas. */
function listOf(text: string): string[] {
	if (text.startsWith('[')) {
		try {
			const kept: unknown = JSON.parse(text);
			if (Array.isArray(kept)) return kept.map(String);
		} catch {
			// a text that only begins like one
		}
	}
	const parts = /[;|\n]/.test(text) ? text.split(/[;|\n]/) : text.split(',');
	return parts.map((part) => part.trim()).filter(Boolean);
}

/** What is wrong with a value, as a key of the catalogue with its values. */
export function sayingOf(issue: { message: string; maximum?: unknown; params?: Record<string, unknown> }): Saying {
	return { key: issue.message, values: { max: Number(issue.maximum ?? 0), ...(issue.params as Saying['values']) } };
}

/** A row of a table by the keys of its columns; a cell that was left empty is missing. */
export type FactRow = Readonly<Record<string, string>>;

function tableSchema(columns: readonly FactColumn[], country: string): z.ZodType<string, unknown> {
	const cells = columns.map((column) => ({ ...column, schema: singleSchema(column.is, country) }));
	return z
		.union([z.array(z.record(z.string(), z.unknown())), z.string().max(200_000, 'wrong.answer.manyRows')], 'wrong.answer.rows')
		.transform((typed, context) => {
			const rows = typeof typed === 'string' ? rowsOf(typed) : typed;
			const problem = (message: string, params: Record<string, string | number> = {}) => {
				context.addIssue({ code: 'custom', message, params });
				return z.NEVER;
			};
			if (!rows) return problem('wrong.answer.rows');
			const kept: Record<string, string>[] = [];
			for (const [i, row] of rows.entries()) {
				const read: Record<string, string> = {};
				for (const { key, label, schema } of cells) {
					const cell = Object.hasOwn(row, key) ? row[key] : undefined;
					if (cell === undefined || cell === null || (typeof cell === 'string' ? cell.trim() === '' : Array.isArray(cell) && cell.length === 0))
						continue;
					const parsed = schema.safeParse(cell);
					if (!parsed.success)
						return problem('wrong.answer.row', {
							row: i + 1,
							column: label,
							...sayingOf(parsed.error.issues[0]).values,
							problem: parsed.error.issues[0].message
						});
					read[key] = parsed.data;
				}
				if (Object.keys(read).length > 0) kept.push(read);
			}
			if (kept.length === 0) return problem('wrong.answer.rows');
			if (kept.length > ROWS_MAX) return problem('wrong.answer.manyRows', { max: ROWS_MAX });
			return JSON.stringify(kept);
		});
}

function rowsOf(text: string): Record<string, unknown>[] | null {
	try {
		const kept: unknown = JSON.parse(text);
		return Array.isArray(kept) && kept.every((row) => row !== null && typeof row === 'object' && !Array.isArray(row)) ? kept : null;
	} catch {
		return null;
	}
}

/** What somebody says about a client, as it comes from a form. */
export const saidFactSchema = z.object({
	name: z.string().regex(/^[a-z][a-z0-9_]{1,40}$/, 'This fact is not known here.'),
	value: z.union([z.string().max(200_000), z.array(z.string().max(500)).max(200)]),
	/** the paper that it was read from */
	paperId: z
		.string()
		.nullish()
		.transform((id) => id || null)
		.pipe(z.uuid('Choose the paper again.').nullable())
});

/** Kinds whose values are text that a person reads as it stands. */
const READ_AS_TEXT: readonly FactKind['kind'][] = ['words', 'lines', 'address', 'email', 'phone', 'web', 'tax_number', 'number', 'money', 'date'];

/** Whether a fact that stands as one kind may go on as another: what was kept must still read as itself. */
export function mayBecome(from: FactKind, to: FactKind): boolean {
	if (from.kind === to.kind) return true;
	if (to.kind === 'lines') return READ_AS_TEXT.includes(from.kind);
	// what has lines does not fit into one
	return to.kind === 'words' && READ_AS_TEXT.includes(from.kind) && from.kind !== 'lines' && from.kind !== 'address';
}

/** Why a value cannot be read any more, for somebody who changes a kind: see `mayBecome`. */
export const kindStays = (from: FactKind): string =>
	`What is known stands as “${FACT_KIND_WORDS[from.kind].words}”, and cannot be read in another way. Make a new one, and retire this one.`;
