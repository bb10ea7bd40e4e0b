import { z } from 'zod';
import { USUAL, type ItemKindDefinition } from '../item-kind';
import { answerSpecSchema, factOfAnswer } from '../questions';

const spec = z.object({
	// a single file is asked for by a line of its own kind
	answer: answerSpecSchema.default({ is: 'words' }).refine(({ is }) => is !== 'file', 'Ask for a file with a line that asks for a paper.'),
	fact: factOfAnswer
});

export const question = {
	...USUAL,
	words: { short: 'question', words: 'a question', about: 'they answer one thing: words, a number, a date, a choice' },
	spec,
	empty: () => ({ answer: { is: 'words' }, fact: null }),
	minutes: () => 2,
	typed: () => ['answer'],
	goesOn: 'until_looked_at'
} satisfies ItemKindDefinition<typeof spec>;
