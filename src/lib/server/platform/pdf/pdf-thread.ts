import type { PapersToJoin } from './join-papers';
import { answerOf, type ThreadAnswer } from '../threads/answers';
import type { TextChanges } from '$lib/core/signing/changes';
import type { TextToCompare } from './compare-texts';
import type { FileToArrange, PageSource } from './arrange-pages';
import type { BoundDocuments, DocumentsToBind } from './bind-documents';
import { composeAnswers, type AnswersToCompose, type ComposedAnswers } from './compose-answers';
import { composeLetter, type ComposedLetter, type LetterToCompose } from './compose-letter';
import { composeTrail, type TrailToCompose } from './compose-trail';
import type { LearntLabel } from '$lib/core/statements/printed/read-printed';
import type { PaperWords } from './read-words';
import { sealLetter, type LetterToSeal, type SealedPdf } from './seal-letter';
import type { EditionToCompare, NewEdition } from './new-edition';
import type { DocumentSurvey } from './survey-document';

export type PdfTask =
	| { do: 'compose'; letter: LetterToCompose }
	| { do: 'answers'; sheet: AnswersToCompose }
	| { do: 'trail'; trail: TrailToCompose }
	| { do: 'seal'; letter: LetterToSeal; timeStamps: string | null }
	| { do: 'draw'; pdf: Uint8Array }
	| { do: 'words'; pdf: Uint8Array; learnt: readonly LearntLabel[] }
	| { do: 'label'; pdf: Uint8Array; amount: string }
	| { do: 'arrange'; sources: readonly PageSource[]; files: readonly FileToArrange[] }
	| { do: 'changes'; before: TextToCompare; after: TextToCompare }
	| { do: 'bind'; documents: DocumentsToBind }
	| { do: 'survey'; name: string; pdf: Uint8Array }
	| { do: 'edition'; edition: EditionToCompare }
	| { do: 'heic'; picture: Uint8Array }
	| { do: 'join'; sources: readonly PageSource[]; to: PapersToJoin };

type Answer =
	| ComposedLetter
	| ComposedAnswers
	| SealedPdf
	| Uint8Array
	| Uint8Array[]
	| { pdf: Uint8Array; pages: number }
	| PaperWords
	| BoundDocuments
	| TextChanges
	| DocumentSurvey
	| NewEdition
	| string
	| null;

/** What runs in a thread of its own. */
export default function run(task: PdfTask): Promise<ThreadAnswer<Answer>> {
	return answerOf<Answer>(async () => {
		if (task.do === 'compose') return composeLetter(task.letter);
		if (task.do === 'answers') return composeAnswers(task.sheet);
		if (task.do === 'trail') return composeTrail(task.trail);
		if (task.do === 'seal') return sealLetter(task.letter, task.timeStamps);
		if (task.do === 'words') return (await import('./read-words')).readPaperWords(task.pdf, task.learnt);
		if (task.do === 'label') return (await import('./read-words')).readLabel(task.pdf, task.amount);
		if (task.do === 'arrange') return (await import('./arrange-pages')).arrangePages(task.sources, task.files);
		if (task.do === 'join') return (await import('./join-papers')).joinPapers(task.sources, task.to);
		if (task.do === 'changes') return (await import('./compare-texts')).compareTexts(task.before, task.after);
		if (task.do === 'bind') return (await import('./bind-documents')).bindDocuments(task.documents);
		if (task.do === 'survey') return (await import('./survey-document')).surveyDocument(task.name, task.pdf);
		if (task.do === 'edition') return (await import('./new-edition')).compareEditions(task.edition);
		if (task.do === 'heic') return (await import('./redraw-heic')).redrawHeic(task.picture);
		// what draws is large, and no letter needs it
		return (await import('./draw-first-page')).drawFirstPage(task.pdf);
	});
}
