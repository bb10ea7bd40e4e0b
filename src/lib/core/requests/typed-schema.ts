import { z } from 'zod';
import { FIELDS_MAX, type TypedNow } from './typed';

const LONGEST = 10_000;
const typedValue = z.union([z.string().max(LONGEST), z.array(z.string().max(200)).max(40)]);
/** What a page sends while somebody types, as it comes. */
export const typedSchema: z.ZodType<TypedNow> = z.object({
	device: z.string().min(1).max(40),
	/** up to when the page knows what came from elsewhere; null for a page that knows nothing yet */
	since: z.iso.datetime().nullable(),
	// counted before each is looked at
	fields: z
		.custom<object>((fields) => typeof fields === 'object' && fields !== null && Object.keys(fields).length <= FIELDS_MAX)
		.pipe(z.record(z.string().max(80), typedValue))
});
