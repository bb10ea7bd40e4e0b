import { z } from 'zod';
import { oneLine } from '../../people/plain-fields';
import { STATEMENTS_OF } from '../../statements/accounts';
import { FILES_MOST, USUAL, type ItemKindDefinition } from '../item-kind';
import { SLOT_TYPES, type SlotType } from '../slots';

const spec = z.object({
	slots: z
		.array(z.object({ name: oneLine('what belongs there', 80), accepts: z.enum(Object.keys(SLOT_TYPES) as [SlotType, ...SlotType[]]) }))
		.max(12, 'At most 12 named files.')
		.default([]),
	/** stands for the statements of the client's accounts: one line each, when it is asked */
	statementsOf: z.enum(STATEMENTS_OF).default('none')
});

export const paper = {
	...USUAL,
	words: { short: 'paper', words: 'a paper', about: 'they add one or several files' },
	spec,
	empty: () => ({ slots: [], statementsOf: 'none' }),
	minutes: () => 3,
	filesMost: () => FILES_MOST,
	slot: ({ slots }, name) => slots.find((slot) => slot.name === name) ?? null,
	goesOn: 'until_looked_at'
} satisfies ItemKindDefinition<typeof spec>;
