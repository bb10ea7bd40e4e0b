/** What stands in one field that was typed into and not sent: one value, or all that are ticked. */
export type TypedValue = string | string[];
export interface TypedField {
	value: TypedValue;
	/** when it came, an instant */
	at: string;
	/** the browser it came from */
	device: string;
}
export type TypedFields = Readonly<Record<string, TypedField>>;

/** The forms of an item's page whose words are kept beside the answers, each with its field. */
export const TYPED_BESIDE = ['no.reason', 'sent.reason', 'later.until', 'change.words', 'decline.reason', 'talk.words'] as const;
/** Before the names of the fields of an answer, so that none is taken for one of the others. */
export const ANSWER = 'answer.';

/** Most fields of one answer: those of the longest questionnaire, and what is beside it. */
export const FIELDS_MAX = 640;
/** What a page sends while somebody types: the fields that changed since it was sent last. */
export interface TypedNow {
	device: string;
	/** up to when the page knows what came from elsewhere; null for a page that knows nothing yet */
	since: string | null;
	fields: Record<string, TypedValue>;
}

/** What comes of keeping: how it all stands now, and which fields another device had written since. */
export interface TypedKept {
	fields: Record<string, TypedField>;
	/** fields of this page that another device had written meanwhile: what came later, from here, stays */
	overwrote: string[];
	/** fields that another device wrote meanwhile and this page did not */
	elsewhere: string[];
}

/**
 * Puts what is typed now over what was kept: field by field, the later one stays.
 * @param names the fields that may be kept; others are left out
 * @param now instant
 */
export function keepTypedFields(before: TypedFields, typed: TypedNow, names: readonly string[], now: string): TypedKept {
	const others = Object.keys(before).filter(
		(name) => before[name].device !== typed.device && (typed.since === null || before[name].at > typed.since)
	);
	const own = Object.keys(typed.fields).filter((name) => names.includes(name));
	const fields: Record<string, TypedField> = { ...before };
	for (const name of own) fields[name] = { value: typed.fields[name], at: now, device: typed.device };
	return {
		fields,
		overwrote: typed.since === null ? [] : others.filter((name) => own.includes(name)),
		elsewhere: others.filter((name) => !own.includes(name))
	};
}

/** Seconds within which a page may have been read while what was typed before it was on its way. */
export const ON_ITS_WAY_SECONDS = 10;

/**
 * Whether what a device kept of a field is put into it again when the page is opened.
 * @param copy what was typed, when by the device's clock, and once it was sent when the server had it (instants)
 * @param there what stands on the page that was read
 * @param readAt when that was, by the server's clock
 */
export function isPutBack(
	copy: { value: TypedValue; at: string; sent?: string },
	there: Pick<TypedField, 'value' | 'at'> | undefined,
	readAt: string
): boolean {
	if (copy.sent === undefined) return copy.at > (there?.at ?? '');
	if (there && (there.at > copy.sent || (there.at === copy.sent && String(there.value) === String(copy.value)))) return false;
	// a page that was read later, and has it no more, is right: it was handed in meanwhile
	return Date.parse(readAt) - Date.parse(copy.sent) <= ON_ITS_WAY_SECONDS * 1000;
}
