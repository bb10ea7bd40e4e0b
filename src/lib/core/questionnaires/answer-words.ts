import { factKeys, valueInWords, type ValueReader } from '../facts/fact-words';
import { factKindOfAnswer } from '../items/comparable';
import type { Question } from '../items/questions';
import { counts, kindIn, testWords, type AnswerCondition } from '../requests/conditions';

/** What is asked of an earlier answer, by the number of its question: "4 is yes". */
export function answerConditionInWords(
	{ question, column, is: test, value, to }: AnswerCondition,
	questions: readonly Question[],
	reader: ValueReader
): string {
	const at = questions.findIndex(({ key }) => key === question);
	if (at < 0) return 'a question that is gone';
	const number = at + 1;
	if (test === 'known' || test === 'unknown') return `${number} is ${test === 'known' ? '' : 'not '}answered`;
	const whole = factKindOfAnswer(questions[at].answer);
	const bare = counts(test) || test === 'contains' || test === 'lacks';
	const said = test === 'one_of_these' ? factKeys(value).join(' or ') : bare ? value : valueInWords(kindIn(whole, column) ?? whole, value, reader);
	return `${column === undefined ? '' : 'a row of '}${number} ${testWords(test)} ${said}${test === 'between' ? ` and ${to}` : ''}`;
}
