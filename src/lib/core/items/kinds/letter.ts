import { z } from 'zod';
import { USUAL, type ItemKindDefinition } from '../item-kind';

/** Its words are kept apart. */
const spec = z.object({});

export const letter = {
	...USUAL,
	words: { short: 'letter', words: 'a letter to sign', about: 'they read and sign; we countersign' },
	spec,
	empty: () => ({}),
	minutes: () => 5,
	judged: false
} satisfies ItemKindDefinition<typeof spec>;
