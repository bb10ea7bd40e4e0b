import { z } from 'zod';
import { oneLine } from '../../people/plain-fields';
import { USUAL, type ItemKindDefinition } from '../item-kind';

const spec = z.object({
	system: oneLine('the system', 80),
	/** whom they add there */
	invite: z.string().trim().max(200).default(''),
	/** asks for something secret, which is kept apart */
	secret: z.boolean().default(false)
});

export const access = {
	...USUAL,
	words: { short: 'access', words: 'access to a system', about: 'they let us in, or give what is needed once' },
	spec,
	empty: () => ({ system: '', invite: '', secret: false }),
	minutes: () => 5
} satisfies ItemKindDefinition<typeof spec>;
