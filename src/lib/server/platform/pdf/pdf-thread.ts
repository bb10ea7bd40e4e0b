import { answerOf, type ThreadAnswer } from '../threads/answers';
import { composeAnswers, type AnswersToCompose, type ComposedAnswers } from './compose-answers';
import { composeLetter, type ComposedLetter, type LetterToCompose } from './compose-letter';
import type { LearntLabel } from '$lib/core/statements/printed/read-printed';
import type { PaperWords } from './read-words';
import { sealLetter, type LetterToSeal } from './seal-letter';

export type PdfTask =
	| { do: 'compose'; letter: LetterToCompose }
	| { do: 'answers'; sheet: AnswersToCompose }
	| { do: 'seal'; letter: LetterToSeal }
	| { do: 'draw'; pdf: Uint8Array }
	| { do: 'words'; pdf: Uint8Array; learnt: readonly LearntLabel[] }
	| { do: 'label'; pdf: Uint8Array; amount: string };

/** What runs in a thread of its own. */
export default function run(task: PdfTask): Promise<ThreadAnswer<ComposedLetter | ComposedAnswers | Uint8Array | PaperWords | string | null>> {
	return answerOf<ComposedLetter | ComposedAnswers | Uint8Array | PaperWords | string | null>(async () => {
		if (task.do === 'compose') return composeLetter(task.letter);
		if (task.do === 'answers') return composeAnswers(task.sheet);
		if (task.do === 'seal') return sealLetter(task.letter);
		if (task.do === 'words') return (await import('./read-words')).readPaperWords(task.pdf, task.learnt);
		if (task.do === 'label') return (await import('./read-words')).readLabel(task.pdf, task.amount);
		// what draws is large, and no letter needs it
		return (await import('./draw-first-page')).drawFirstPage(task.pdf);
	});
}
