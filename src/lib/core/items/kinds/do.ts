import { z } from 'zod';
import { USUAL, type ItemKindDefinition } from '../item-kind';

const spec = z.object({});

export const toDo = {
	...USUAL,
	words: { short: 'to do', words: 'something to do', about: 'they say when it is done' },
	spec,
	empty: () => ({}),
	minutes: () => 5
} satisfies ItemKindDefinition<typeof spec>;
