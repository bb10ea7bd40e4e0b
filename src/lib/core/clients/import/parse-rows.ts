import { z } from 'zod';
import { LANGUAGE_CODES, LANGUAGES, type Language } from '../../people/languages';
import { phoneField } from '../../people/phone';
import { emailField, oneLine, optionalLine } from '../../people/plain-fields';
import { factSchema } from '../../facts/fact-values';
import type { FactDefinition, FirmFacts } from '../../facts/fact-definition';
import type { ImportColumn } from './columns';
import type { FileRow } from '../../tables/read-rows';
import type { ClientKind, KnownWorld, RowPlan } from './plan-import';

export interface ParsedRow {
	problems: RowPlan['problems'];
	record: string;
	client: string;
	kind: ClientKind | null;
	responsibleId: string | null;
	serviceIds: string[];
	facts: { name: string; value: string }[];
	person: { name: string; email: string | null; phone: string | null; language: Language | null; role: string | null } | null;
}

/** Reads the cells of a row, each by its own rule. */
export function rowParser(columns: readonly (ImportColumn | null)[], known: KnownWorld, facts: FirmFacts): (row: FileRow) => ParsedRow {
	const phone = phoneField(known.country);
	const staff = new Map(
		known.staff.flatMap((person) => [[person.name.toLowerCase(), person.id] as const, [person.email.toLowerCase(), person.id] as const])
	);
	const services = new Map(known.services.map((service) => [service.name.toLowerCase(), service.id]));
	const clientName = oneLine('the client’s name', 160);
	const personName = oneLine('the contact’s name', 120);
	const roleName = optionalLine('the role', 80);
	return (row) => {
		const problems: ParsedRow['problems'] = [];
		const cell = (column: ImportColumn) => {
			const at = columns.indexOf(column);
			return at < 0 ? '' : (row.cells[at] ?? '').trim();
		};
		const read = <T>(column: ImportColumn, schema: z.ZodType<T, unknown> | z.ZodType<T, string | undefined>, text = cell(column)): T | null => {
			if (text === '') return null;
			const parsed = schema.safeParse(text);
			if (parsed.success) return parsed.data;
			const [issue] = parsed.error.issues;
			problems.push({ column, message: issue.message, ...('maximum' in issue ? { maximum: Number(issue.maximum) } : {}) });
			return null;
		};
		const language = (): Language | null => {
			const known = languageOf(cell('language'));
			if (cell('language') && !known)
				problems.push({ column: 'language', message: `The portal speaks ${Object.values(LANGUAGES).join(' and ')}. Write one of them.` });
			return known;
		};
		const surplus = row.cells.slice(columns.length).find((text) => text.trim() !== '');
		if (surplus)
			problems.push({
				column: null,
				message: `This row has ${row.cells.length} cells, the heading ${columns.length}. Is a separator inside a name?`
			});

		const written = asPerson(cell('contact') || [cell('first_name'), cell('last_name')].filter(Boolean).join(' '));
		const addressed = asPerson(cell('email'));
		const wholeName = written.name || (addressed.email ? addressed.name : '');
		const email = read('email', emailField, addressed.email || cell('email') || written.email);
		const name = read('contact', personName, wholeName) ?? email;
		const person =
			name || cell('phone') ? { name: name ?? '', email, phone: read('phone', phone), language: language(), role: read('role', roleName) } : null;
		const nameColumn = (['contact', 'first_name', 'last_name'] as const).find((column) => columns.includes(column)) ?? null;
		if (person && !person.name) problems.push({ column: nameColumn, message: 'There is a phone number, but no name.' });
		if (problems.some((problem) => problem.column === 'email') && person) person.email = null;

		const asBusiness = read('client', clientName) ?? '';
		const client = asBusiness || (person?.name ?? '');
		if (!client && !cell('record') && problems.length === 0)
			problems.push({ column: 'client', message: 'There is neither a client’s name nor a contact’s.' });

		let kind: ClientKind | null = null;
		if (cell('kind')) {
			kind = kindOf(cell('kind'));
			if (!kind) problems.push({ column: 'kind', message: 'Write “business” or “person”.' });
		}
		let responsibleId: string | null = null;
		if (cell('responsible')) {
			responsibleId = staff.get(cell('responsible').toLowerCase()) ?? null;
			if (!responsibleId) problems.push({ column: 'responsible', message: 'Nobody in the firm has this name or address.' });
		}
		const serviceIds: string[] = [];
		for (const text of serviceNames(cell('services'), services)) {
			const id = services.get(text.toLowerCase());
			if (id) serviceIds.push(id);
			else problems.push({ column: 'services', message: `The firm’s list has no service “${text}”. Add it in Firm, or take it out here.` });
		}
		const said: ParsedRow['facts'] = [];
		for (const column of columns) {
			const fact = column && facts.get(column);
			if (!column || !fact) continue;
			const value = read(column, factSchema(fact, known), asFactValue(fact, cell(column)));
			if (value !== null) said.push({ name: fact.name, value });
		}
		return {
			problems,
			record: cell('record'),
			client,
			kind: kind ?? (asBusiness || !person ? null : 'person'),
			responsibleId,
			serviceIds,
			facts: said,
			person: person?.name ? person : null
		};
	};
}

/** What follows a name after a comma and is no given name. */
const SUFFIX = /^(jr|sr|ii|iii|iv|esq|md|phd|cpa|ca|dds|dvm|llb)\.?$/i;

/** A person as lists write them: "Mara Whitlock", "Whitlock, Mara", "Mara Whitlock <mara@gull.example>", or an address alone. */
function asPerson(text: string): { name: string; email: string } {
	const addressed = /^(.*?)\s*<\s*(\S+@[^\s>]+)\s*>$/.exec(text);
	const email = addressed?.[2] ?? (/^\S+@\S+$/.test(text) ? text : '');
	const name = (addressed ? addressed[1] : email ? '' : text).replace(/^["'](.*)["']$/, '$1').trim();
	const [family, given, ...more] = name.split(',').map((part) => part.trim());
	const turned = given && family && more.length === 0 && !SUFFIX.test(given);
	return { name: turned ? `${given} ${family}` : name, email };
}

/** The services of a cell: one that is written so in the firm's list, else parts between semicolons, bars and lines, and between commas. */
function serviceNames(text: string, known: ReadonlyMap<string, string>): string[] {
	const isKnown = (name: string) => known.has(name.toLowerCase());
	const trimmed = (parts: string[]) => parts.map((part) => part.trim()).filter((part) => part !== '');
	return trimmed(text.split(/[;|\n]/)).flatMap((part) => (isKnown(part) ? [part] : trimmed(part.split(/,|\s\+\s|\s&\s|\sand\s/))));
}

const englishNames = new Intl.DisplayNames('en', { type: 'language' });
const LANGUAGE_NAMES = new Map(
	LANGUAGE_CODES.flatMap((code) => [code, LANGUAGES[code], englishNames.of(code) ?? code].map((name) => [name.toLowerCase(), code] as const))
);

/** A language as lists write it: its code, with or without a region, or its name in English or its own words. */
function languageOf(text: string): Language | null {
	const bare = text.trim().toLowerCase();
	return LANGUAGE_NAMES.get(bare) ?? LANGUAGE_CODES.find((code) => bare.startsWith(`${code}-`)) ?? null;
}

function kindOf(text: string): ClientKind | null {
	const word = text.toLowerCase();
	if (/^(business|company|organisation|organization|b)$/.test(word)) return 'business';
	if (/^(person|individual|private|private person|p)$/.test(word)) return 'person';
	return null;
}

const YES = /^(y|yes|true|x|1)$/i;
const NO = /^(n|no|false|0)$/i;

/** A cell as the form of the fact would send it: lists write yes and no in many ways. What cannot be told stays as it is and is refused. */
function asFactValue({ is }: FactDefinition, text: string): string {
	return is.kind === 'yes_no' ? (YES.test(text) ? 'yes' : NO.test(text) ? 'no' : text) : text;
}
