import { addToInstant, compareInstants, type IsoInstant } from '../calendar/firm-calendar';
import type { FirmFacts } from '../facts/fact-definition';

/** A merge can be undone for so many days. */
export const MERGE_UNDO_DAYS = 30;

export function mayUndoMerge(mergedAt: IsoInstant, now: IsoInstant): boolean {
	return compareInstants(now, addToInstant(mergedAt, { hours: MERGE_UNDO_DAYS * 24 })) < 0;
}

export const CLIENT_FIELDS = ['name', 'kind', 'responsible'] as const;
export const CONTACT_FIELDS = ['name', 'email', 'phone'] as const;
/** What two clients are compared by: their own fields, then the facts in the order of the record. */
export const clientMergeFields = (facts: FirmFacts): string[] => [...CLIENT_FIELDS, ...facts.all.map(({ name }) => name)];

const LABELS: Record<string, string> = { name: 'Name', kind: 'Kind', responsible: 'Looked after by', email: 'E-mail', phone: 'Phone' };

export function mergeFieldLabel(field: string, facts: FirmFacts): string {
	return LABELS[field] ?? facts.get(field)?.label ?? field;
}

export interface MergeChoice {
	field: string;
	kept: string | null;
	gone: string | null;
	/** which of the two is proposed: what the kept one has, else what the other has */
	proposed: 'kept' | 'gone';
}

/** Field by field what either has; fields that neither has, or both alike, need no choice and are left out. */
export function mergeChoices(
	fields: readonly string[],
	kept: Readonly<Record<string, string | null>>,
	gone: Readonly<Record<string, string | null>>
): MergeChoice[] {
	return fields.flatMap((field) => {
		const [a, b] = [kept[field] ?? null, gone[field] ?? null];
		return a === b || b === null ? [] : [{ field, kept: a, gone: b, proposed: a === null ? ('gone' as const) : ('kept' as const) }];
	});
}
