import type { FactDefinition, FactKind, FirmFacts, SingleFactKind } from '../facts/fact-definition';
import { factKeys, factRows } from '../facts/fact-words';

/**
 * Conditions of the lines of a list: what must hold for a client so that a line is asked. They are data, not text, so there
 * is nothing to parse; they nest, and three answers are possible, since a fact may not be known yet.
 */
export type Condition =
	| { kind: 'all'; of: Condition[] }
	| { kind: 'any'; of: Condition[] }
	| FactCondition
	| AnswerCondition
	| { kind: 'service'; name: string; is: 'has' | 'has_not' }
	| { kind: 'client'; is: 'business' | 'person' };

/** What is asked of a fact; of a table, of any one of its rows in a column. */
export interface FactCondition {
	kind: 'fact';
	fact: string;
	/** of a table: the key of the column in which one row must be so */
	column?: string;
	is: FactTest;
	value: string;
	/** the second value of "between" */
	to?: string;
}

/** In a questionnaire: how an earlier question of it is answered. */
export interface AnswerCondition {
	kind: 'answer';
	/** the key of the question */
	question: string;
	/** of a table: the key of the column in which one row must be so */
	column?: string;
	is: FactTest;
	value: string;
	to?: string;
	/** what holds where that question is not asked at all */
	otherwise?: boolean;
}

/** What a fact can be compared by. */
export const FACT_TESTS = [
	'equals',
	'differs',
	'contains',
	'lacks',
	'one_of_these',
	'greater',
	'less',
	'between',
	'before',
	'after',
	'older',
	'newer',
	'more_rows',
	'fewer_rows',
	'known',
	'unknown'
] as const;
export type FactTest = (typeof FACT_TESTS)[number];

const TESTS_OF: Record<FactKind['kind'], readonly FactTest[]> = {
	words: ['contains', 'equals', 'differs'],
	lines: ['contains', 'lacks'],
	address: ['contains', 'lacks'],
	email: ['contains', 'equals', 'differs'],
	phone: ['contains', 'equals', 'differs'],
	web: ['contains', 'equals', 'differs'],
	tax_number: ['equals', 'differs', 'contains'],
	number: ['greater', 'less', 'equals', 'differs', 'between'],
	money: ['greater', 'less', 'equals', 'differs', 'between'],
	date: ['before', 'after', 'equals', 'between', 'older', 'newer'],
	day_of_year: ['equals', 'differs'],
	choice: ['equals', 'differs', 'one_of_these'],
	several: ['contains', 'lacks'],
	yes_no: ['equals', 'differs'],
	table: ['more_rows', 'fewer_rows']
};

/** The tests that make sense for a kind, in the order in which they are offered. Whether a cell of a table is known is no question. */
export function testsOf(is: FactKind, of: 'fact' | 'column' = 'fact'): readonly FactTest[] {
	return of === 'column' ? TESTS_OF[is.kind] : [...TESTS_OF[is.kind], 'known', 'unknown'];
}

/** Tests that need no value beside them. */
const BARE_TESTS: readonly FactTest[] = ['known', 'unknown'];
export const needsValue = (test: FactTest): boolean => !BARE_TESTS.includes(test);
/** Tests whose value is a number of days or of rows, whatever the fact is. */
const COUNTING_TESTS: readonly FactTest[] = ['older', 'newer', 'more_rows', 'fewer_rows'];
export const counts = (test: FactTest): boolean => COUNTING_TESTS.includes(test);

/** The kind that a condition about a fact compares, or why it cannot: the fact's, or that of a column of its table. */
export function comparedKind(facts: FirmFacts, { fact, column }: Pick<FactCondition, 'fact' | 'column'>): FactKind | null {
	const is = facts.get(fact)?.is;
	return is ? kindIn(is, column) : null;
}

/** A kind itself, or that of a column of its table; null if there is no such column. */
export function kindIn(is: FactKind, column: string | undefined): FactKind | null {
	if (column === undefined) return is;
	return is.kind === 'table' ? (is.columns.find(({ key }) => key === column)?.is ?? null) : null;
}

/** What is known of a client when a list is made to fit. */
export interface ClientKnown {
	/** null where nobody is known yet */
	kind: 'business' | 'person' | null;
	/** names of the services of the running engagements */
	services: readonly string[];
	facts: Readonly<Record<string, string>>;
	/** `YYYY-MM-DD` in the firm's time zone, for how long ago something was */
	today: string;
	/** in a questionnaire: whether an answer is so */
	answered?: (condition: AnswerCondition) => boolean;
}

/** Holds, does not hold, or cannot be said yet; with the leaves that decided it and the facts that are missing. */
export interface Verdict {
	holds: boolean | 'unknown';
	/** the leaves that made it so */
	because: Exclude<Condition, { kind: 'all' | 'any' }>[];
	missing: string[];
}

/** Judges a condition for a client by the three-valued logic of Kleene: what is not known decides nothing by itself. */
export function judge(condition: Condition, client: ClientKnown, facts: FirmFacts): Verdict {
	switch (condition.kind) {
		case 'client':
			return client.kind === null
				? { holds: 'unknown', because: [], missing: [] }
				: { holds: client.kind === condition.is, because: [condition], missing: [] };
		case 'service': {
			const wanted = condition.name.toLowerCase();
			const has = client.services.some((service) => service.toLowerCase() === wanted);
			return { holds: condition.is === 'has' ? has : !has, because: [condition], missing: [] };
		}
		case 'answer':
			return client.answered
				? { holds: client.answered(condition), because: [condition], missing: [] }
				: { holds: 'unknown', because: [], missing: [] };
		case 'fact': {
			const name = facts.get(condition.fact)?.name ?? condition.fact;
			const value = client.facts[name];
			if (!needsValue(condition.is)) return { holds: (value !== undefined) === (condition.is === 'known'), because: [condition], missing: [] };
			const is = comparedKind(facts, condition);
			// a fact or column that is gone decides nothing, and nobody can be asked for it
			if (value === undefined || !is) return { holds: 'unknown', because: [], missing: is ? [name] : [] };
			return { holds: testHolds(value, is, condition, client.today), because: [condition], missing: [] };
		}
		case 'all':
		case 'any': {
			// one that fails decides "all", one that holds decides "any"
			const deciding = condition.kind === 'any';
			const verdicts = condition.of.map((part) => judge(part, client, facts));
			const decided = verdicts.filter((verdict) => verdict.holds === deciding);
			if (decided.length > 0) return { holds: deciding, because: decided.flatMap((verdict) => verdict.because), missing: [] };
			if (verdicts.some((verdict) => verdict.holds === 'unknown'))
				return { holds: 'unknown', because: [], missing: [...new Set(verdicts.flatMap((verdict) => verdict.missing))] };
			return { holds: !deciding, because: verdicts.flatMap((verdict) => verdict.because), missing: [] };
		}
	}
}

/** Days from one ISO date to another: days of the calendar, in which no clock is put forward. */
const daysBetween = (from: string, to: string): number => Math.round((Date.parse(to) - Date.parse(from)) / 86_400_000);

/** What is compared, and by which test. */
export type Test = Pick<FactCondition, 'column' | 'is' | 'value' | 'to'>;

/**
 * Whether a test holds for a value that is spelled as a kind of fact is kept.
 * @param is of a test about a column, the kind of that column
 * @param today `YYYY-MM-DD`
 */
export function testHolds(value: string, is: FactKind, condition: Test, today: string): boolean {
	const { column } = condition;
	if (column !== undefined)
		return factRows(value).some((row) => row[column] !== undefined && compare(row[column], is as SingleFactKind, condition, today));
	if (condition.is === 'more_rows') return factRows(value).length > Number(condition.value);
	if (condition.is === 'fewer_rows') return factRows(value).length < Number(condition.value);
	return compare(value, is as SingleFactKind, condition, today);
}

function compare(value: string, is: SingleFactKind, { is: test, value: wanted, to = '' }: Test, today: string): boolean {
	const byNumber = is.kind === 'number' || is.kind === 'money';
	const contains = () => (is.kind === 'several' ? factKeys(value).includes(wanted) : value.toLowerCase().includes(wanted.toLowerCase()));
	switch (test) {
		case 'equals':
			return value.toLowerCase() === wanted.toLowerCase();
		case 'differs':
			return value.toLowerCase() !== wanted.toLowerCase();
		case 'contains':
			return contains();
		case 'lacks':
			return !contains();
		case 'one_of_these':
			return factKeys(wanted).includes(value);
		case 'greater':
			return Number(value) > Number(wanted);
		case 'less':
			return Number(value) < Number(wanted);
		case 'between':
			// both ends belong to it
			return byNumber ? Number(value) >= Number(wanted) && Number(value) <= Number(to) : value >= wanted && value <= to;
		// ISO dates sort as text
		case 'before':
			return value < wanted;
		case 'after':
			return value > wanted;
		case 'older':
			return daysBetween(value, today) > Number(wanted);
		case 'newer':
			return daysBetween(value, today) <= Number(wanted);
		default:
			return false;
	}
}

/** Words for a value of a kind that belongs to a fact: dates in the reader's way; see `factInWords`. */
export type FactValueWords = (fact: FactDefinition, value: string, is?: FactKind) => string;

/** Words for what is asked of an answer, by whoever knows the questions: "4 is yes". */
export type AnswerWords = (condition: AnswerCondition) => string;

const TEST_WORDS: Record<FactTest, string> = {
	equals: 'is',
	differs: 'is not',
	contains: 'contains',
	lacks: 'does not contain',
	one_of_these: 'is one of',
	greater: 'is more than',
	less: 'is less than',
	between: 'is between',
	before: 'is before',
	after: 'is after',
	older: 'is longer ago than, in days,',
	newer: 'is within the last days:',
	more_rows: 'has more rows than',
	fewer_rows: 'has fewer rows than',
	known: 'is known',
	unknown: 'is not known'
};
export const testWords = (test: FactTest): string => TEST_WORDS[test];

function factConditionInWords(condition: FactCondition, facts: FirmFacts, words: FactValueWords): string {
	const fact = facts.get(condition.fact);
	const { column, is: test, value, to = '' } = condition;
	const label = fact?.label ?? condition.fact;
	const of =
		column === undefined
			? label
			: `in a row of ${label}, ${fact?.is.kind === 'table' ? (fact.is.columns.find(({ key }) => key === column)?.label ?? column) : column}`;
	const is = comparedKind(facts, condition);
	const said = (one: string, as: FactKind | null = is) => (fact && as ? words(fact, one, as) : one);
	switch (test) {
		case 'known':
		case 'unknown':
			return `${of} ${TEST_WORDS[test]}`;
		case 'between':
			return `${of} is between ${said(value)} and ${said(to)}`;
		case 'older':
			return `${of} is more than ${value} days ago`;
		case 'newer':
			return `${of} is within the last ${value} days`;
		case 'one_of_these':
			return `${of} is one of ${said(value, is?.kind === 'choice' ? { kind: 'several', choices: is.choices } : is)}`;
		case 'contains':
		case 'lacks':
			return `${of} ${TEST_WORDS[test]} ${is?.kind === 'several' ? said(value, { kind: 'choice', choices: is.choices }) : `“${value}”`}`;
		case 'more_rows':
		case 'fewer_rows':
			return `${of} ${TEST_WORDS[test]} ${value}`;
		default:
			return `${of} ${TEST_WORDS[test]} ${said(value)}`;
	}
}

/** A condition in plain words: "Runs payroll is yes, and (Employees is more than 3 or the client is a person)". */
export function conditionInWords(condition: Condition, facts: FirmFacts, words: FactValueWords, answer?: AnswerWords): string {
	switch (condition.kind) {
		case 'client':
			return `the client is a ${condition.is}`;
		case 'service':
			return condition.is === 'has' ? `we do ${condition.name} for them` : `we do not do ${condition.name} for them`;
		case 'fact':
			return factConditionInWords(condition, facts, words);
		case 'answer':
			return answer?.(condition) ?? 'an earlier question is answered so';
		case 'all':
		case 'any':
			return condition.of
				.map((part) => {
					const text = conditionInWords(part, facts, words, answer);
					return (part.kind === 'all' || part.kind === 'any') && part.of.length > 1 ? `(${text})` : text;
				})
				.join(condition.kind === 'all' ? ', and ' : ', or ');
	}
}

/** What is so for the client, said of the leaves that decided: "Runs payroll is no". */
export function becauseInWords(
	because: Verdict['because'],
	client: ClientKnown,
	facts: FirmFacts,
	words: FactValueWords,
	answer?: AnswerWords
): string {
	const sentences = because.map((leaf) => {
		if (leaf.kind === 'answer') return answer?.(leaf) ?? 'of an earlier answer';
		if (leaf.kind === 'client') return `the client is a ${client.kind}`;
		if (leaf.kind === 'service') {
			const has = client.services.some((service) => service.toLowerCase() === leaf.name.toLowerCase());
			return has ? `we do ${leaf.name} for them` : `we do not do ${leaf.name} for them`;
		}
		const fact = facts.get(leaf.fact);
		if (!fact) return `${leaf.fact} is not known`;
		const value = client.facts[fact.name];
		if (value === undefined) return `${fact.label} is not known`;
		if (fact.is.kind !== 'table') return `${fact.label} is ${words(fact, value)}`;
		const rows = factRows(value).length;
		return leaf.column === undefined
			? `${fact.label} has ${rows} ${rows === 1 ? 'row' : 'rows'}`
			: `${judge(leaf, client, facts).holds === true ? 'a' : 'no'} row of ${fact.label} is so`;
	});
	return [...new Set(sentences)].join(' and ');
}

/** What a condition begins with: that a first yes-or-no fact is yes, else that some fact is known, else the kind of client. */
export function firstCondition(facts: FirmFacts): Condition {
	const yesNo = facts.asked.find((fact) => fact.name === 'payroll') ?? facts.asked.find((fact) => fact.is.kind === 'yes_no');
	if (yesNo?.is.kind === 'yes_no') return { kind: 'fact', fact: yesNo.name, is: 'equals', value: 'yes' };
	return facts.asked.length > 0 ? { kind: 'fact', fact: facts.asked[0].name, is: 'known', value: '' } : { kind: 'client', is: 'business' };
}

/** The names of the facts that a condition asks about. */
export function factsOfCondition(condition: Condition | null): string[] {
	if (!condition) return [];
	if (condition.kind === 'all' || condition.kind === 'any') return condition.of.flatMap(factsOfCondition);
	return condition.kind === 'fact' ? [condition.fact] : [];
}
