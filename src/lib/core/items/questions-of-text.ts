import { guessKind } from '../facts/guess-kind';
import { answerOfFact, newQuestion, type AnswerKind, type AnswerSpec, type Question } from './questions';

/** How a question begins that is answered in some way; choices go along from one kind to the other. */
export function freshAnswer(is: AnswerKind, currency: string, before?: AnswerSpec): AnswerSpec {
	switch (is) {
		case 'number':
			return { is, unit: '' };
		case 'money':
			return { is, currency };
		case 'one_of':
		case 'several_of':
			return {
				is,
				choices: before && 'choices' in before ? [...before.choices] : ['', ''],
				...(before && 'other' in before ? { other: before.other } : {})
			};
		case 'tax_number':
			return { is, check: '' };
		case 'file':
			return { is, accepts: 'any' };
		case 'table':
			return { is, columns: [{ key: 'name', label: 'Name', is: { kind: 'words', max: 200 } }] };
		default:
			return { is };
	}
}

/** Words by which somebody asks for a file, where they do not ask whether there is one. */
const WANTS_FILE = /^(please )?(add|attach|upload|send us|scan)\b|^(an? |the |your )?(copy|copies|scan|photo|picture|pdf) of\b/i;

/** How a question is most likely answered, by its words. */
export function guessAnswer(title: string, currency: string): AnswerSpec {
	if (WANTS_FILE.test(title.trim())) return { is: 'file', accepts: 'any' };
	const is = guessKind(title, currency);
	return is.kind === 'words' ? { is: 'words' } : answerOfFact({ is });
}

/** A bullet of a list of choices. */
const CHOICE = /^\s*(?:[-*•–—▪◦]|\[ \]|☐)\s+/;
const NUMBER = /^\s*(?:\d{1,3}|[a-z])[.)]\s+/i;

/**
 * Questions out of pasted text: one a line, numbers in front of it left out. A line that begins with # or ends in a colon is the heading
 * of a part, unless dashes follow it: lines with dashes are the choices of the question above them.
 * @param key makes a key for a question
 */
export function questionsOfText(text: string, currency: string, key: () => string): Question[] {
	const lines = text.split(/\r\n?|\n/).filter((line) => line.trim() !== '');
	const questions: Question[] = [];
	let part: string | undefined;
	for (const [i, line] of lines.entries()) {
		const last = questions.at(-1);
		if (CHOICE.test(line) && last) {
			const choice = line.replace(CHOICE, '').trim().slice(0, 120);
			const choices = last.answer.is === 'one_of' || last.answer.is === 'several_of' ? last.answer.choices : [];
			if (choice && !choices.some((one) => one.toLowerCase() === choice.toLowerCase()))
				last.answer = { is: last.answer.is === 'several_of' ? 'several_of' : 'one_of', choices: [...choices, choice] };
			continue;
		}
		const title = line.replace(NUMBER, '').trim();
		const heading = /^#{1,4}\s*(.+)$/.exec(title)?.[1] ?? (/:$/.test(title) && !CHOICE.test(lines[i + 1] ?? '') ? title.slice(0, -1) : null);
		if (heading !== null) {
			part = heading.trim().slice(0, 80);
			continue;
		}
		const words = title.replace(/:$/, '').slice(0, 200);
		const several = /\b(all that apply|which of these|choose all)\b/i.test(words);
		const answer: AnswerSpec = several ? { is: 'several_of', choices: [] } : guessAnswer(words, currency);
		questions.push(newQuestion(key(), words, answer, part === undefined ? {} : { part }));
		part = undefined;
	}
	// choices of which there is only one, or none, are none
	for (const question of questions)
		if ((question.answer.is === 'one_of' || question.answer.is === 'several_of') && question.answer.choices.length < 2)
			question.answer = { is: 'words' };
	return questions;
}
