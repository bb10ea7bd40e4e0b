import { DomainError } from '$lib/core/errors/domain-error';
import { errorForLog, log } from '../log';
import { openThread } from '../threads/open-thread';
import type { TextChanges } from '$lib/core/signing/changes';
import type { TextToCompare } from './compare-texts';
import type { FileToArrange, PageSource } from './arrange-pages';
import type { BoundDocuments, DocumentsToBind } from './bind-documents';
import type { AnswersToCompose, ComposedAnswers } from './compose-answers';
import type { TrailToCompose } from './compose-trail';
import type { PapersToJoin } from './join-papers';
import type { ComposedLetter, LetterToCompose } from './compose-letter';
import type { LearntLabel } from '$lib/core/statements/printed/read-printed';
import type { PaperWords } from './read-words';
import type { PdfTask } from './pdf-thread';
import type { LetterToSeal, SealedPdf } from './seal-letter';
import type { EditionToCompare, NewEdition } from './new-edition';
import type { DocumentSurvey } from './survey-document';

/** PDF work, off the event loop. */
export interface PdfWork {
	compose(letter: LetterToCompose): Promise<ComposedLetter>;
	/** a questionnaire, blank or filled in */
	answers(sheet: AnswersToCompose): Promise<ComposedAnswers>;
	trail(trail: TrailToCompose): Promise<Uint8Array>;
	/** see `sealLetter`. @throws Error if it needs a time stamp that is not to be had */
	seal(letter: LetterToSeal): Promise<SealedPdf>;
	/** see `drawFirstPage`; null also if it takes longer than twenty seconds */
	firstPage(pdf: Uint8Array): Promise<Uint8Array | null>;
	/** see `readPaperWords`; null also if it takes longer than twenty seconds */
	words(pdf: Uint8Array, learnt: readonly LearntLabel[]): Promise<PaperWords | null>;
	/** see `labelOfSum`; null also if it takes longer than twenty seconds */
	label(pdf: Uint8Array, amount: string): Promise<string | null>;
	/** see `arrangePages`. @throws DomainError too_many if it takes longer than a minute */
	arrange(sources: readonly PageSource[], files: readonly FileToArrange[]): Promise<Uint8Array[]>;
	/** see `joinPapers`. @throws DomainError too_many if it takes longer than a minute */
	join(sources: readonly PageSource[], to: PapersToJoin): Promise<{ pdf: Uint8Array; pages: number }>;
	/** see `bindDocuments`. @throws DomainError too_many if it takes longer than a minute */
	bind(documents: DocumentsToBind): Promise<BoundDocuments>;
	/** see `compareTexts`. @throws DomainError too_many if it takes longer than twenty seconds */
	changes(before: TextToCompare, after: TextToCompare): Promise<TextChanges>;
	/** see `surveyDocument`. @throws DomainError too_many if it takes longer than twenty seconds */
	survey(name: string, pdf: Uint8Array): Promise<DocumentSurvey>;
	/** see `compareEditions`. @throws DomainError too_many if it takes longer than twenty seconds */
	edition(edition: EditionToCompare): Promise<NewEdition>;
	/** see `redrawHeic`. @throws DomainError too_many if it takes longer than twenty seconds */
	heic(picture: Uint8Array): Promise<Uint8Array>;
	close(): Promise<void>;
}

const DRAWING_SECONDS = 20;
const ARRANGING_SECONDS = 60;
const HEIC_SECONDS = 20;
const SURVEY_SECONDS = 20;
const BINDING_SECONDS = 60;

/**
 * PDF work in up to two threads; what others made is drawn in one of its own, which is ended if it takes too long.
 * @param timeStamps the address of a service for time stamps of seals (RFC 3161)
 */
export function threadedPdfWork({ timeStamps }: { timeStamps?: string } = {}): PdfWork {
	const thread = openThread<PdfTask>('pdf-thread', 2);
	const drawing = openThread<PdfTask>('pdf-thread', 1);
	const arranging = openThread<PdfTask>('pdf-thread', 1);
	const inTime = <Result>(task: PdfTask, seconds: number, tooSlow: string) =>
		arranging.run<Result>(task, seconds).catch((error: Error) => {
			if (error.name !== 'AbortError') throw error;
			throw new DomainError('too_many', tooSlow);
		});
	const arrange = <Result>(task: PdfTask) =>
		inTime<Result>(task, ARRANGING_SECONDS, 'These pages take too long to put in order. Take fewer at once.');
	return {
		compose: (letter) => thread.run({ do: 'compose', letter }),
		answers: (sheet) => thread.run({ do: 'answers', sheet }),
		trail: (trail) => thread.run({ do: 'trail', trail }),
		seal: (letter) => thread.run({ do: 'seal', letter, timeStamps: timeStamps ?? null }),
		firstPage: (pdf) =>
			drawing.run<Uint8Array | null>({ do: 'draw', pdf }, DRAWING_SECONDS).catch((error: Error) => {
				log.warn(errorForLog(error), 'a first page was not drawn');
				return null;
			}),
		words: (pdf, learnt) =>
			drawing.run<PaperWords | null>({ do: 'words', pdf, learnt }, DRAWING_SECONDS).catch((error: Error) => {
				log.warn(errorForLog(error), 'the words of a paper were not read');
				return null;
			}),
		label: (pdf, amount) =>
			drawing.run<string | null>({ do: 'label', pdf, amount }, DRAWING_SECONDS).catch((error: Error) => {
				log.warn(errorForLog(error), 'what a sum is called was not read');
				return null;
			}),
		arrange: (sources, files) => arrange<Uint8Array[]>({ do: 'arrange', sources, files }),
		join: (sources, to) => arrange<{ pdf: Uint8Array; pages: number }>({ do: 'join', sources, to }),
		bind: (documents) =>
			inTime<BoundDocuments>(
				{ do: 'bind', documents },
				BINDING_SECONDS,
				'These documents take too long to be put together. Send fewer of them as one letter.'
			),
		changes: (before, after) =>
			inTime<TextChanges>(
				{ do: 'changes', before, after },
				SURVEY_SECONDS,
				'These versions take too long to be compared. Send the letter as a new one, not as a new version.'
			),
		survey: (name, pdf) =>
			inTime<DocumentSurvey>(
				{ do: 'survey', name, pdf },
				SURVEY_SECONDS,
				`${name} takes too long to be read. Save it again, smaller, from the program that made it.`
			),
		edition: (edition) =>
			inTime<NewEdition>(
				{ do: 'edition', edition },
				SURVEY_SECONDS,
				`${edition.after.name} takes too long to be compared. Take the old one out, and add this one anew.`
			),
		heic: (picture) =>
			inTime<Uint8Array>({ do: 'heic', picture }, HEIC_SECONDS, 'This picture takes too long to be shown here. Download it to look at it.'),
		close: async () => {
			await Promise.all([thread.close(), drawing.close(), arranging.close()]);
		}
	};
}
