import { z } from 'zod';
import { FACT_NAMES, FACTS, factSchema, type FactDefinition, type FactName } from '../clients/facts';
import { oneLine } from '../people/plain-fields';

/**
 * Conditions of the lines of a list: what must hold for a client so that a line is asked. They are data, not text, so there
 * is nothing to parse; they nest, and three answers are possible, since a fact may not be known yet.
 */
export type Condition =
	| { kind: 'all'; of: Condition[] }
	| { kind: 'any'; of: Condition[] }
	| { kind: 'fact'; fact: FactName; is: FactTest; value: string }
	| { kind: 'service'; name: string; is: 'has' | 'has_not' }
	| { kind: 'client'; is: 'business' | 'person' };

/** What a fact can be compared by. */
export const FACT_TESTS = ['equals', 'differs', 'contains', 'greater', 'less', 'before', 'after', 'known', 'unknown'] as const;
export type FactTest = (typeof FACT_TESTS)[number];

/** The tests that make sense for a fact, in the order in which they are offered. */
export function testsOf(fact: FactName): FactTest[] {
	const { is }: FactDefinition = FACTS[fact];
	switch (is.kind) {
		case 'words':
		case 'lines':
			return ['contains', 'equals', 'differs', 'known', 'unknown'];
		case 'count':
			return ['greater', 'less', 'equals', 'differs', 'known', 'unknown'];
		case 'date':
			return ['before', 'after', 'equals', 'known', 'unknown'];
		case 'day_of_year':
		case 'choice':
		case 'yes_no':
			return ['equals', 'differs', 'known', 'unknown'];
	}
}

/** Tests that need no value beside them. */
const BARE_TESTS: readonly FactTest[] = ['known', 'unknown'];
export const needsValue = (test: FactTest): boolean => !BARE_TESTS.includes(test);

const DEPTH_MAX = 4;
const BREADTH_MAX = 12;

const factCondition = z
	.object({ kind: z.literal('fact'), fact: z.enum(FACT_NAMES, 'This fact is not known here.'), is: z.enum(FACT_TESTS), value: z.string().max(300) })
	.transform((condition, context): Extract<Condition, { kind: 'fact' }> => {
		if (!testsOf(condition.fact).includes(condition.is))
			context.addIssue({ code: 'custom', path: ['is'], message: `“${FACTS[condition.fact].label}” cannot be compared this way.` });
		if (!needsValue(condition.is)) return { ...condition, value: '' };
		// what is contained is a part of the value, everything else is spelled as the fact is kept
		const value =
			condition.is === 'contains'
				? oneLine('what it contains', 120).safeParse(condition.value)
				: factSchema(condition.fact).safeParse(condition.value);
		if (value.success) return { ...condition, value: value.data };
		context.addIssue({ code: 'custom', path: ['value'], message: value.error.issues[0].message });
		return z.NEVER;
	});

function conditionOfDepth(depth: number): z.ZodType<Condition> {
	const leaves = [
		factCondition,
		z.object({ kind: z.literal('service'), name: oneLine('the service', 80), is: z.enum(['has', 'has_not']) }),
		z.object({ kind: z.literal('client'), is: z.enum(['business', 'person']) })
	] as const;
	if (depth === 0) return z.union(leaves);
	const of = z
		.array(conditionOfDepth(depth - 1))
		.min(1, 'A group of conditions needs at least one.')
		.max(BREADTH_MAX, `A group holds at most ${BREADTH_MAX} conditions.`);
	return z.union([...leaves, z.object({ kind: z.literal('all'), of }), z.object({ kind: z.literal('any'), of })]);
}

/** A condition as it comes from a form or the database; groups in groups go four deep. */
export const conditionSchema: z.ZodType<Condition> = conditionOfDepth(DEPTH_MAX);

/** What is known of a client when a list is made to fit. */
export interface ClientKnown {
	kind: 'business' | 'person';
	/** names of the services of the running engagements */
	services: readonly string[];
	facts: Readonly<Partial<Record<FactName, string>>>;
}

/** Holds, does not hold, or cannot be said yet; with the leaves that decided it and the facts that are missing. */
export interface Verdict {
	holds: boolean | 'unknown';
	/** the leaves that made it so */
	because: Exclude<Condition, { kind: 'all' | 'any' }>[];
	missing: FactName[];
}

/** Judges a condition for a client by the three-valued logic of Kleene: what is not known decides nothing by itself. */
export function judge(condition: Condition, client: ClientKnown): Verdict {
	switch (condition.kind) {
		case 'client':
			return { holds: client.kind === condition.is, because: [condition], missing: [] };
		case 'service': {
			const wanted = condition.name.toLowerCase();
			const has = client.services.some((service) => service.toLowerCase() === wanted);
			return { holds: condition.is === 'has' ? has : !has, because: [condition], missing: [] };
		}
		case 'fact': {
			const value = client.facts[condition.fact];
			if (!needsValue(condition.is)) return { holds: (value !== undefined) === (condition.is === 'known'), because: [condition], missing: [] };
			if (value === undefined) return { holds: 'unknown', because: [], missing: [condition.fact] };
			return { holds: compare(value, condition.is, condition.value), because: [condition], missing: [] };
		}
		case 'all':
		case 'any': {
			// one that fails decides "all", one that holds decides "any"
			const deciding = condition.kind === 'any';
			const verdicts = condition.of.map((part) => judge(part, client));
			const decided = verdicts.filter((verdict) => verdict.holds === deciding);
			if (decided.length > 0) return { holds: deciding, because: decided.flatMap((verdict) => verdict.because), missing: [] };
			const missing = [...new Set(verdicts.flatMap((verdict) => verdict.missing))];
			if (missing.length > 0) return { holds: 'unknown', because: [], missing };
			return { holds: !deciding, because: verdicts.flatMap((verdict) => verdict.because), missing: [] };
		}
	}
}

function compare(value: string, test: FactTest, wanted: string): boolean {
	switch (test) {
		case 'equals':
			return value.toLowerCase() === wanted.toLowerCase();
		case 'differs':
			return value.toLowerCase() !== wanted.toLowerCase();
		case 'contains':
			return value.toLowerCase().includes(wanted.toLowerCase());
		case 'greater':
			return Number(value) > Number(wanted);
		case 'less':
			return Number(value) < Number(wanted);
		// ISO dates sort as text
		case 'before':
			return value < wanted;
		case 'after':
			return value > wanted;
		default:
			return false;
	}
}

/** Words for values: dates in the reader's way; see `factInWords`. */
export type FactValueWords = (fact: FactName, value: string) => string;

const TEST_WORDS: Record<FactTest, string> = {
	equals: 'is',
	differs: 'is not',
	contains: 'contains',
	greater: 'is more than',
	less: 'is less than',
	before: 'is before',
	after: 'is after',
	known: 'is known',
	unknown: 'is not known'
};
export const testWords = (test: FactTest): string => TEST_WORDS[test];

/** A condition in plain words: "Runs payroll is yes, and (Employees is more than 3 or the client is a person)". */
export function conditionInWords(condition: Condition, words: FactValueWords): string {
	switch (condition.kind) {
		case 'client':
			return `the client is a ${condition.is}`;
		case 'service':
			return condition.is === 'has' ? `we do ${condition.name} for them` : `we do not do ${condition.name} for them`;
		case 'fact':
			return `${FACTS[condition.fact].label} ${TEST_WORDS[condition.is]}${needsValue(condition.is) ? ` ${condition.is === 'contains' ? `“${condition.value}”` : words(condition.fact, condition.value)}` : ''}`;
		case 'all':
		case 'any':
			return condition.of
				.map((part) => {
					const text = conditionInWords(part, words);
					return (part.kind === 'all' || part.kind === 'any') && part.of.length > 1 ? `(${text})` : text;
				})
				.join(condition.kind === 'all' ? ', and ' : ', or ');
	}
}

/** What is so for the client, said of the leaves that decided: "Runs payroll is no". */
export function becauseInWords(because: Verdict['because'], client: ClientKnown, words: FactValueWords): string {
	const sentences = because.map((leaf) => {
		if (leaf.kind === 'client') return `the client is a ${client.kind}`;
		if (leaf.kind === 'service') {
			const has = client.services.some((service) => service.toLowerCase() === leaf.name.toLowerCase());
			return has ? `we do ${leaf.name} for them` : `we do not do ${leaf.name} for them`;
		}
		const value = client.facts[leaf.fact];
		return value === undefined ? `${FACTS[leaf.fact].label} is not known` : `${FACTS[leaf.fact].label} is ${words(leaf.fact, value)}`;
	});
	return [...new Set(sentences)].join(' and ');
}
