import { z } from 'zod';
import { fromLibrarySchema, QUESTIONS_MAX } from '../../questionnaires/questionnaire';
import { unknownField } from '../answer-review';
import { endsSchema } from '../brings';
import { FILES_MOST, USUAL, type ItemKindDefinition } from '../item-kind';
import { newQuestion, questionSchema } from '../questions';
import { minutesOf } from '../which-apply';

const spec = z
	.object({
		questions: z.array(questionSchema).max(QUESTIONS_MAX, `At most ${QUESTIONS_MAX} questions in one line; make a second one.`),
		/** files may be added to the answers */
		files: z.boolean().default(false),
		/** whoever is asked signs the answers as they hand them in */
		signed: z.boolean().default(false),
		/** what all answers together bring about at the firm */
		ends: endsSchema,
		/** the questionnaire of the Library whose newest version is asked; its questions are put in when it is sent */
		from: fromLibrarySchema.optional()
	})
	.refine(({ questions, from }) => questions.length > 0 || from !== undefined, { path: ['questions'], message: 'Write at least one question.' });

export const questionnaire = {
	...USUAL,
	words: { short: 'questions', words: 'several questions', about: 'they answer a short list in one go, or a questionnaire of the Library' },
	spec,
	empty: (key) => ({ questions: [newQuestion(key, '', { is: 'words' })], files: false, signed: false, ends: [] }),
	// without what hangs on an answer or on who they are; of the Library, before it is sent, a usual one
	minutes: ({ questions }) =>
		questions.length === 0 ? 6 : minutesOf(questions.filter(({ under, condition }) => under === undefined && condition === undefined)),
	filesMost: ({ questions, files }) => (files || questions.some(({ answer }) => answer.is === 'file') ? FILES_MOST : 0),
	slot: ({ questions }, name) => {
		const question = questions.find(({ key }) => key === name);
		return question?.answer.is === 'file' ? { name, words: question.title, accepts: question.answer.accepts } : undefined;
	},
	// of what was asked back only that, and what was not answered before
	partOpen: ({ files }, slot, { answers, review }) => (slot === null ? files : !review.askedBack || slot in review.askedBack || !(slot in answers)),
	typed: ({ questions }) => questions.flatMap(({ key }) => [key, unknownField(key)]),
	goesOn: 'until_looked_at'
} satisfies ItemKindDefinition<typeof spec>;
