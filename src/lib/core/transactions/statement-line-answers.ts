import type { TransactionsSpec } from './statement-line-questions';

/** How a line may be answered, besides with a file. */
export const STATEMENT_LINE_ANSWERS = ['choice', 'words', 'personal', 'unknown', 'no_paper'] as const;
export type StatementLineAnswerKind = (typeof STATEMENT_LINE_ANSWERS)[number];

export interface StatementLineAnswer {
	how: StatementLineAnswerKind;
	/** the choice, or what was written; may go with any of them */
	words: string;
	by: string;
	at: string;
	/** still being typed, kept so that it can be gone on with: no answer yet */
	typing?: boolean;
}
/** The answers so far, by line. */
export type StatementLineAnswers = Record<string, StatementLineAnswer>;

/** The answer that was given to a line; one that is still being typed is none yet. */
export function givenAnswer(answers: StatementLineAnswers | null, lineId: string): StatementLineAnswer | undefined {
	const answer = answers?.[lineId];
	return answer?.typing ? undefined : answer;
}

/** Whether an answer may be given to lines of this question. */
export function allowsAnswer(spec: TransactionsSpec, answer: Pick<StatementLineAnswer, 'how' | 'words'>): boolean {
	if (answer.how === 'no_paper') return spec.asks === 'paper';
	if (answer.how === 'choice') return spec.choices.includes(answer.words);
	return true;
}

/** The lines that are still open: neither answered nor with a file. @param papers the files that were added, each for the line in its slot */
export function openStatementLines<Line extends { id: string }>(
	lines: readonly Line[],
	answers: StatementLineAnswers | null,
	papers: readonly { slot: string | null }[]
): Line[] {
	const withFile = new Set(papers.map((paper) => paper.slot));
	return lines.filter((line) => !givenAnswer(answers, line.id) && !withFile.has(line.id));
}

/** An answer as the firm reads it, and as it goes out. */
export function statementLineAnswerInWords(answer: StatementLineAnswer | undefined, files: readonly string[]): string {
	const said = !answer
		? ''
		: answer.how === 'personal'
			? ['personal', answer.words].filter(Boolean).join(': ')
			: answer.how === 'unknown'
				? ['does not know', answer.words].filter(Boolean).join(': ')
				: answer.how === 'no_paper'
					? ['there is no paper', answer.words].filter(Boolean).join(': ')
					: answer.words;
	return [said, ...(files.length > 0 ? [files.join(', ')] : [])].filter(Boolean).join('; ');
}
