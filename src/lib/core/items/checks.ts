import type { Answer } from './answers';
import { fromMinor } from './minor-units';
import type { AnswerKind, AnswerSpec } from './questions';

/** What an answer must keep to, beyond what its kind asks. */
export interface Check {
	/** at least so much: characters, the number itself, an amount in its currency, choices or rows */
	least?: number;
	/** at most so much */
	most?: number;
	/** on which side of today a date must be; today itself is right for both */
	day?: 'not_future' | 'not_past';
	/** what words may be made of; spaces, hyphens and points are let through everywhere */
	madeOf?: keyof typeof MADE_OF;
}

/** The only patterns there are, in words: nobody writes one that takes forever to match. */
export const MADE_OF = {
	digits: { words: 'digits only', wrong: 'wrong.check.digits', pattern: /^[\d\s.-]+$/u },
	letters: { words: 'letters only', wrong: 'wrong.check.letters', pattern: /^[\p{L}\p{M}\s.’'-]+$/u },
	letters_digits: { words: 'letters and digits only', wrong: 'wrong.check.letters_digits', pattern: /^[\p{L}\p{M}\d\s.-]+$/u }
} as const;

/** What the two ends of a check count, by the kind of answer; kinds that are not here have none. */
const ENDS: Partial<Record<AnswerKind, 'characters' | 'amount' | 'choices' | 'rows'>> = {
	line: 'characters',
	words: 'characters',
	number: 'amount',
	money: 'amount',
	several_of: 'choices',
	table: 'rows'
};
const WRONG = {
	characters: { least: 'wrong.check.characters.least', most: 'wrong.check.characters.most' },
	amount: { least: 'wrong.check.amount.least', most: 'wrong.check.amount.most' },
	choices: { least: 'wrong.check.choices.least', most: 'wrong.check.choices.most' },
	rows: { least: 'wrong.check.rows.least', most: 'wrong.check.rows.most' }
};
export const endsOf = (is: AnswerKind): (typeof ENDS)[AnswerKind] => ENDS[is];

/** A check without what means nothing for its kind of answer; undefined if nothing is left. */
export function checkFor(is: AnswerKind, check: Check | undefined): Check | undefined {
	if (!check) return undefined;
	const kept: Check = {
		...(ENDS[is] && check.least !== undefined ? { least: check.least } : {}),
		...(ENDS[is] && check.most !== undefined ? { most: check.most } : {}),
		...(is === 'date' && check.day ? { day: check.day } : {}),
		...(is === 'line' && check.madeOf ? { madeOf: check.madeOf } : {})
	};
	return Object.keys(kept).length > 0 ? kept : undefined;
}

/** What is wrong with an answer, as a saying of the catalogue, or null. @param today `YYYY-MM-DD` where the firm is */
export function checkProblem(
	spec: AnswerSpec,
	check: Check | undefined,
	answer: Answer,
	today: string
): { key: string; values?: Record<string, string | number> } | null {
	const held = checkFor(spec.is, check);
	if (!held) return null;
	const ends = ENDS[spec.is];
	if (ends) {
		const size =
			typeof answer === 'number'
				? spec.is === 'money'
					? fromMinor(answer, spec.currency)
					: answer
				: typeof answer === 'string'
					? [...answer].length
					: (answer as []).length;
		if (held.least !== undefined && size < held.least) return { key: WRONG[ends].least, values: { least: held.least } };
		if (held.most !== undefined && size > held.most) return { key: WRONG[ends].most, values: { most: held.most } };
	}
	// ISO dates sort as text
	if (held.day === 'not_future' && String(answer) > today) return { key: 'wrong.check.future' };
	if (held.day === 'not_past' && String(answer) < today) return { key: 'wrong.check.past' };
	if (held.madeOf && !MADE_OF[held.madeOf].pattern.test(String(answer))) return { key: MADE_OF[held.madeOf].wrong };
	return null;
}

/** A check in the words of whoever writes it: "between 1 and 8 rows". */
export function checkInWords(is: AnswerKind, check: Check | undefined): string {
	const held = checkFor(is, check);
	if (!held) return '';
	const ends = ENDS[is];
	const unit = ends === 'amount' || !ends ? '' : ` ${ends}`;
	const { least, most } = held;
	const size =
		least !== undefined && most !== undefined
			? `between ${least} and ${most}${unit}`
			: least !== undefined
				? `at least ${least}${unit}`
				: most !== undefined
					? `at most ${most}${unit}`
					: '';
	return [
		size,
		held.day === 'not_future' ? 'not in the future' : held.day === 'not_past' ? 'not in the past' : '',
		held.madeOf ? MADE_OF[held.madeOf].words : ''
	]
		.filter(Boolean)
		.join(', ');
}
