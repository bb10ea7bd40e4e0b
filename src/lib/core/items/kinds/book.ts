import { z } from 'zod';
import { USUAL, type ItemKindDefinition } from '../item-kind';
import { webLink } from '../web-link';

const spec = z.object({
	link: webLink.default(''),
	/** instants */
	times: z.array(z.iso.datetime()).max(40, 'At most 40 times.').default([]),
	minutes: z.coerce.number().int().min(5, 'At least 5 minutes.').max(480, 'At most 8 hours.').default(30),
	where: z.string().trim().max(200).default('')
});

/** The chosen time, an instant. */
export interface Booking {
	time: string;
}

export const book = {
	...USUAL,
	words: { short: 'to book', words: 'a time to book', about: 'they choose one of the times, or follow a link' },
	spec,
	empty: () => ({ link: '', times: [], minutes: 30, where: '' }),
	acceptsItself: true,
	minutes: () => 1,
	// an appointment can be moved or called off also after the firm has seen it
	goesOn: 'always',
	missing: ({ title, spec: { link, times } }) =>
		link || times.length > 0
			? null
			: {
					message: `“${title}” offers no time yet. Give times, or the address of a page for booking.`,
					field: 'spec.times',
					hint: 'Give at least one time, or a link.'
				}
} satisfies ItemKindDefinition<typeof spec>;
