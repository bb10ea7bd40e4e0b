import { z } from 'zod';
import { USUAL, type ItemKindDefinition } from '../item-kind';
import { webLink } from '../web-link';

const spec = z.object({ link: webLink.default('') });

export const read = {
	...USUAL,
	words: { short: 'to read', words: 'something to read', about: 'they confirm that they have read it' },
	spec,
	empty: () => ({ link: '' }),
	acceptsItself: true,
	minutes: () => 3,
	missing: ({ title, why, attachments, spec: { link } }) =>
		attachments.length > 0 || link || why
			? null
			: {
					message: `“${title}” has nothing to read yet: words, a file or a link.`,
					field: 'why',
					hint: 'Write what is to be read, or add a file or a link.'
				}
} satisfies ItemKindDefinition<typeof spec>;
