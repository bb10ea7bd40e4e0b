import { z } from 'zod';
import { oneLine, optionalLine } from '../people/plain-fields';

export const PLACE_KINDS = [
	'signature',
	'initials',
	'date',
	'name',
	'email',
	'title',
	'text',
	'number',
	'choice',
	'tick',
	'holder',
	'routing',
	'account'
] as const;
export type PlaceKind = (typeof PLACE_KINDS)[number];

/** What a place is called, and how large one is to begin with, in points. */
export const PLACES: Record<PlaceKind, { words: string; width: number; height: number; asks: boolean }> = {
	signature: { words: 'signature', width: 190, height: 44, asks: false },
	initials: { words: 'initials', width: 54, height: 30, asks: false },
	date: { words: 'date', width: 100, height: 22, asks: false },
	name: { words: 'name', width: 170, height: 22, asks: false },
	email: { words: 'e-mail', width: 190, height: 22, asks: false },
	title: { words: 'title', width: 170, height: 22, asks: true },
	text: { words: 'text', width: 170, height: 22, asks: true },
	number: { words: 'number', width: 90, height: 22, asks: true },
	choice: { words: 'choice', width: 130, height: 22, asks: true },
	tick: { words: 'tick', width: 16, height: 16, asks: true },
	holder: { words: 'account holder', width: 190, height: 22, asks: true },
	routing: { words: 'bank number', width: 120, height: 22, asks: true },
	account: { words: 'bank account', width: 190, height: 22, asks: true }
};

/** What is asked in a place to begin with; empty where that is for whoever puts it there to say. */
export const usualLabel = (kind: PlaceKind): string => (kind === 'title' ? 'Title' : '');

/** Kinds that ask for the account from which fees may be collected: what is given goes nowhere but encrypted. */
export const BANK_KINDS: readonly PlaceKind[] = ['holder', 'routing', 'account'];
/** Whether the places of a signer ask for an account. */
export const asksForAccount = (places: readonly Pick<Place, 'kind' | 'of'>[], signer: string): boolean =>
	places.some(({ kind, of }) => of === signer && BANK_KINDS.includes(kind));
/** Of those, what is no more than its last characters on any page. */
export const isSecret = ({ kind }: Pick<Place, 'kind'>): boolean => kind === 'routing' || kind === 'account';

const length = z.number().min(4).max(14_400);
const placeSchema = z.object({
	id: z.string().min(1).max(40),
	/** which of the documents, from 0, and which of its pages, from 1 */
	document: z.number().int().min(0).max(20),
	page: z.number().int().min(1).max(2000),
	/** as it is seen, in points from the upper left corner of the page */
	x: z.number().min(0).max(14_400),
	y: z.number().min(0).max(14_400),
	width: length,
	height: length,
	kind: z.enum(PLACE_KINDS),
	/** key of the signer who fills it */
	of: z.string().min(1).max(20),
	/** what is asked; places of one signer with the same label are filled once */
	label: optionalLine('the label', 80).transform((text) => text ?? ''),
	required: z.boolean().default(true),
	help: optionalLine('the help', 200).transform((text) => text ?? ''),
	choices: z.array(oneLine('each choice', 80)).max(20).default([]),
	/** label of a tick of the same signer without which this is not asked */
	onlyIf: z
		.string()
		.nullable()
		.default(null)
		.transform((text) => text?.trim() || null),
	/** where the bank is (ISO 3166-1 alpha-2), of what asks for an account in a letter that was sent */
	country: z.string().length(2).optional()
});
export type Place = z.output<typeof placeSchema>;
export const placesSchema = z.array(placeSchema).max(600, 'More than 600 places are too many for one letter.');

export type Values = Readonly<Record<string, string>>;
/** What a ticked box holds. */
export const TICKED = 'yes';
export const VALUE_MAX = 400;

/** What somebody is asked to fill in, each label once, in the order in which it is read. */
export interface PlaceField {
	label: string;
	kind: Exclude<PlaceKind, 'signature' | 'initials' | 'date' | 'name' | 'email'>;
	required: boolean;
	help: string;
	choices: string[];
	onlyIf: string | null;
	/** see `placeSchema` */
	country?: string;
}

/** Places in the order in which they are read: by page, from top to bottom; what stands beside another from left to right. */
export function inReadingOrder<One extends Pick<Place, 'document' | 'page' | 'x' | 'y' | 'height'>>(places: readonly One[]): One[] {
	const foot = (place: One) => Math.round((place.y + place.height) / 14);
	return [...places].sort((a, b) => a.document - b.document || a.page - b.page || foot(a) - foot(b) || a.x - b.x);
}

/** What one signer is asked to fill in. */
export function fieldsOf(places: readonly Place[], signer: string): PlaceField[] {
	const fields = new Map<string, PlaceField>();
	for (const { kind, of, label, required, help, choices, onlyIf, country } of inReadingOrder(places)) {
		if (of !== signer || !PLACES[kind].asks || label === '') continue;
		const known = fields.get(label);
		if (known) known.required ||= required;
		else fields.set(label, { label, kind: kind as PlaceField['kind'], required, help, choices, onlyIf, country });
	}
	return [...fields.values()];
}

/** Whether a field or a place is asked, as far as is known now. */
export const applies = ({ onlyIf }: Pick<PlaceField, 'onlyIf'>, values: Values): boolean => onlyIf === null || values[onlyIf] === TICKED;

/** What one signer still has to fill in. */
export const leftOf = (fields: readonly PlaceField[], values: Values): PlaceField[] =>
	fields.filter((field) => field.required && applies(field, values) && !values[field.label]?.trim());

const NUMBER = /^[-+]?\d{1,15}([.,'’ \u00a0\u202f]\d{1,15})*$/;

/** What is wrong with a value, as a key of the catalogue; null where nothing is. */
export function wrongValue(field: PlaceField, value: string): 'wrong.place.number' | 'wrong.place.choice' | 'wrong.place.long' | null {
	if (value === '') return null;
	if (value.length > VALUE_MAX) return 'wrong.place.long';
	if (field.kind === 'number' && !NUMBER.test(value)) return 'wrong.place.number';
	if (field.kind === 'choice' && !field.choices.includes(value)) return 'wrong.place.choice';
	return null;
}

/** What is kept of what a signer gave: nothing that was not asked, and nothing of places that do not apply. */
export function keptValues(fields: readonly PlaceField[], given: Values): Record<string, string> {
	return Object.fromEntries(
		fields.flatMap((field) => {
			const value = given[field.label]?.trim() ?? '';
			return value !== '' && applies(field, given) ? [[field.label, value]] : [];
		})
	);
}

/** Initials of a name: the first letter of each word, of a hyphenated one both. */
export const initialsOf = (name: string): string =>
	name
		.trim()
		.split(/[\s-]+/u)
		.map((word) => [...word][0] ?? '')
		.join('')
		.toLocaleUpperCase()
		.slice(0, 5);

/** What lacks before places can be sent, in a sentence; null where nothing does. */
export function placesMissing(places: readonly Place[]): string | null {
	for (const place of places) {
		if (PLACES[place.kind].asks && place.label === '')
			return `A ${PLACES[place.kind].words} place on page ${place.page} does not say what is asked. Write its label.`;
		if (place.kind === 'choice' && place.choices.length < 2) return `“${place.label}” needs at least two choices.`;
		if (place.onlyIf && !places.some((other) => other.of === place.of && other.kind === 'tick' && other.label === place.onlyIf))
			return `A place on page ${place.page} is asked only if “${place.onlyIf}” is ticked, and there is no such tick for the same person.`;
		const twin = places.find((other) => other.of === place.of && other.label === place.label && PLACES[other.kind].asks && other.kind !== place.kind);
		if (PLACES[place.kind].asks && twin)
			return `“${place.label}” is once a ${PLACES[place.kind].words} and once a ${PLACES[twin.kind].words}. The same label is filled once: give one of them another.`;
		const another = places.find((other) => other.of === place.of && other.kind === place.kind && other.label !== place.label);
		if (BANK_KINDS.includes(place.kind) && another)
			return `Of one person one account is asked: “${place.label}” and “${another.label}” are each a place for the ${PLACES[place.kind].words}.`;
	}
	return null;
}
