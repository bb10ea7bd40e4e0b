import { typedAnswer } from '$lib/core/items/comparable';
import type { Answers, Question } from '$lib/core/items/questions';

/** What stands in the fields of a form while somebody types, as the answers it would be. */
export function answersIn(form: HTMLFormElement, questions: readonly Question[]): Answers {
	const data = new FormData(form);
	return Object.fromEntries(
		questions.flatMap(({ key, answer }) => {
			const one = typedAnswer(
				answer,
				data.getAll(key).map((value) => (typeof value === 'string' ? value : value.name))
			);
			return one === undefined ? [] : [[key, one]];
		})
	);
}
