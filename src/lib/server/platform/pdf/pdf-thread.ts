import { answerOf, type ThreadAnswer } from '../threads/answers';
import { composeLetter, type ComposedLetter, type LetterToCompose } from './compose-letter';
import { sealLetter, type LetterToSeal } from './seal-letter';

export type PdfTask = { do: 'compose'; letter: LetterToCompose } | { do: 'seal'; letter: LetterToSeal };

/** What runs in a thread of its own. */
export default function run(task: PdfTask): Promise<ThreadAnswer<ComposedLetter | Uint8Array>> {
	return answerOf<ComposedLetter | Uint8Array>(() => (task.do === 'compose' ? composeLetter(task.letter) : sealLetter(task.letter)));
}
