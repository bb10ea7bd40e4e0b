import { z } from 'zod';

/** What somebody may do with a client that is not open to everybody, each level with those before it. */
export const RIGHTS = ['see', 'work', 'administer'] as const;
export type Right = (typeof RIGHTS)[number];

export const RIGHT_WORDS: Record<Right, string> = {
	see: 'look at everything',
	work: 'also work on it, as their role allows',
	administer: 'also lock, end, merge and share'
};

/** The form in which a client is closed to others, or opened: `right-{id}` for each person and group. */
export function readRightsForm(fields: Iterable<[string, unknown]>): { id: string; level: Right }[] {
	const rights: { id: string; level: Right }[] = [];
	for (const [name, value] of fields) {
		const id = z.uuid().safeParse(/^right-(.+)$/.exec(name)?.[1]);
		const level = z.enum(RIGHTS).safeParse(value);
		if (id.success && level.success) rights.push({ id: id.data, level: level.data });
	}
	return rights;
}
