/** Minutes in which the questions have to be answered. */
export const CHECK_MINUTES = 15;

/** What the service asks somebody to find out whether they are who they say. */
export interface CheckQuestion {
	key: string;
	words: string;
	choices: { key: string; words: string }[];
}

/** The service as it is named where a check is chosen. */
export interface CheckService {
	name: string;
	/** what one check costs, in words */
	costs: string;
}

/** passed: they are who they say; unknown: the service knows too little of them to ask; expired: no answers came in time */
export type CheckOutcome = 'passed' | 'failed' | 'unknown' | 'expired';

/**
 * What the answers are, as they came from a form.
 * @param given what was chosen, by the key of the question
 * @returns the keys of the questions that have no answer among their choices, if there are any
 */
export function unanswered(questions: readonly CheckQuestion[], given: Readonly<Record<string, unknown>>): string[] {
	return questions.filter(({ key, choices }) => !choices.some((choice) => choice.key === given[key])).map(({ key }) => key);
}

/** How one time went, as it stands at the desk after the name. */
export function outcomeWords(outcome: CheckOutcome, score: number | null): string {
	switch (outcome) {
		case 'passed':
			return `passed the identity check, ${score} of 100 points`;
		case 'failed':
			return `did not pass the identity check, ${score} of 100 points`;
		case 'unknown':
			return 'could not be checked: the service knows too little of them';
		case 'expired':
			return 'did not answer the questions of the identity check in time';
	}
}
