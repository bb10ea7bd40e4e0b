import { z } from 'zod';
import { USUAL, type ItemKindDefinition } from '../item-kind';

const spec = z.object({
	/** files among those beside it that a newer version has taken the place of */
	earlier: z.array(z.uuid()).max(50).default([])
});

/** Whether the client agrees with what was shown, and what they want changed. */
export interface Verdict {
	agrees: boolean;
	words: string | null;
}

export const approve = {
	...USUAL,
	words: { short: 'to approve', words: 'something to approve', about: 'they look at a file, pin remarks to it, agree or want a change' },
	spec,
	empty: () => ({ earlier: [] }),
	minutes: () => 5,
	goesOn: 'until_looked_at',
	missing: ({ title, attachments }) =>
		attachments.length > 0
			? null
			: { message: `“${title}” has no file that could be approved. Add it, or take the line out.`, field: 'attachments', hint: 'Add the file.' }
} satisfies ItemKindDefinition<typeof spec>;
