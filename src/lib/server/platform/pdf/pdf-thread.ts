import { answerOf, type ThreadAnswer } from '../threads/answers';
import { drawFirstPage } from './draw-first-page';
import { composeLetter, type ComposedLetter, type LetterToCompose } from './compose-letter';
import { sealLetter, type LetterToSeal } from './seal-letter';

export type PdfTask = { do: 'compose'; letter: LetterToCompose } | { do: 'seal'; letter: LetterToSeal } | { do: 'draw'; pdf: Uint8Array };

/** What runs in a thread of its own. */
export default function run(task: PdfTask): Promise<ThreadAnswer<ComposedLetter | Uint8Array | null>> {
	return answerOf<ComposedLetter | Uint8Array | null>(() =>
		task.do === 'compose' ? composeLetter(task.letter) : task.do === 'seal' ? sealLetter(task.letter) : drawFirstPage(task.pdf)
	);
}
