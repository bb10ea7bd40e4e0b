import { z } from 'zod';
import { PAPER_KINDS, PAPER_SEEN, type PapersWanted } from '$lib/server/papers/client-papers';

/** Letters that may be typed to look for papers. */
const TYPED_MOST = 200;

const orNull = <T extends z.ZodType>(schema: T) => schema.nullable().catch(null);
const querySchema = z.object({
	typed: z
		.string()
		.transform((text) => text.slice(0, TYPED_MOST))
		.catch(''),
	folder: orNull(z.union([z.literal('none'), z.uuid()])),
	seen: orNull(z.enum(PAPER_SEEN)),
	kind: orNull(z.enum(PAPER_KINDS)),
	from: orNull(z.iso.date()),
	to: orNull(z.iso.date()),
	before: orNull(z.uuid())
});

/** What of papers an address asks for; what in it means nothing is left aside. */
export function papersQuery(query: URLSearchParams): Omit<Required<PapersWanted>, 'clientId'> {
	const { typed, ...rest } = querySchema.parse({
		typed: query.get('find') ?? '',
		...Object.fromEntries(['folder', 'seen', 'kind', 'from', 'to', 'before'].map((name) => [name, query.get(name) || null]))
	});
	return { typed, ...rest };
}
