import { z } from 'zod';
import { FILES_MOST, USUAL, type ItemKindDefinition } from '../item-kind';
import { questionSchema } from '../questions';

const spec = z.object({
	questions: z.array(questionSchema).min(1, 'Write at least one question.').max(150, 'At most 150 questions in one line; make a second one.'),
	/** files may be added to the answers */
	files: z.boolean().default(false)
});

export const questionnaire = {
	...USUAL,
	words: { short: 'questions', words: 'several questions', about: 'they answer a short list in one go' },
	spec,
	empty: (key) => ({ questions: [{ key, title: '', help: '', required: true, answer: { is: 'words' }, fact: null }], files: false }),
	minutes: 6,
	filesMost: ({ files }) => (files ? FILES_MOST : 0),
	typed: ({ questions }) => questions.map(({ key }) => key),
	goesOn: 'until_looked_at'
} satisfies ItemKindDefinition<typeof spec>;
