import { z } from 'zod';
import { USUAL, type ItemKindDefinition } from '../item-kind';
import { answerSpecSchema, factOfAnswer } from '../questions';

const spec = z.object({ answer: answerSpecSchema.default({ is: 'words' }), fact: factOfAnswer });

export const question = {
	...USUAL,
	words: { short: 'question', words: 'a question', about: 'they answer one thing: words, a number, a date, a choice' },
	spec,
	empty: () => ({ answer: { is: 'words' }, fact: null }),
	minutes: () => 2,
	typed: () => ['answer'],
	goesOn: 'until_looked_at'
} satisfies ItemKindDefinition<typeof spec>;
