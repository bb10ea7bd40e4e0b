import type { FirmFacts } from '../facts/fact-definition';
import { becauseInWords, judge, type ClientKnown, type Condition, type FactValueWords } from './conditions';

/** What a person decided for this client about one line of a list, against what the conditions say. */
export type Override = 'in' | 'out';

/** What happens to one line of a list for a client, and why. */
export interface TailoredLine {
	key: string;
	out: boolean;
	/** in words; null for a line that is always asked */
	why: string | null;
	/** facts that would decide it; the line stays until they are known */
	missing: string[];
	/** a person decided, now or for this client before */
	overridden: boolean;
}

export interface Tailoring {
	lines: TailoredLine[];
	/** what to ask first, each fact once, in the order of the lines */
	missing: string[];
}

/**
 * Makes a list fit a client: a line without a condition stays, one whose condition fails goes with the reason, one that
 * cannot be decided stays and names what is not known. What a person decided for this client before comes first.
 */
export function tailor(
	lines: readonly { key: string; condition: Condition | null }[],
	client: ClientKnown,
	overrides: Readonly<Record<string, Override>>,
	facts: FirmFacts,
	words: FactValueWords
): Tailoring {
	const missing = new Set<string>();
	const tailored = lines.map(({ key, condition }): TailoredLine => {
		const override = overrides[key];
		const verdict = condition && judge(condition, client, facts);
		if (override) return { key, out: override === 'out', why: `you decided so for this client${reason()}`, missing: [], overridden: true };
		if (!verdict) return { key, out: false, why: null, missing: [], overridden: false };
		if (verdict.holds === 'unknown') {
			for (const fact of verdict.missing) missing.add(fact);
			return { key, out: false, why: null, missing: verdict.missing, overridden: false };
		}
		return { key, out: !verdict.holds, why: becauseInWords(verdict.because, client, facts, words), missing: [], overridden: false };

		function reason(): string {
			if (!verdict || verdict.holds === 'unknown' || verdict.holds === (override === 'in')) return '';
			return `, though ${becauseInWords(verdict.because, client, facts, words)}`;
		}
	});
	return { lines: tailored, missing: [...missing] };
}
