import { z } from 'zod';
import { longText, oneLine } from '../people/plain-fields';

/** What a client gives as a reason; messages are keys of the catalogue. */
export const reasonSchema = z.object({ reason: longText({ empty: 'wrong.reason.empty', long: 'wrong.reason.long' }, 1000) });
export const remarkSchema = z.object({ words: longText({ empty: 'wrong.remark.empty', long: 'wrong.remark.long' }, 4000) });
/** What the firm writes in a talk; the key is one id for every press, so that it goes once. */
export const writtenSchema = remarkSchema.extend({ idempotencyKey: z.uuid() });
export const secretSchema = z.object({ secret: oneLine({ empty: 'wrong.answer.empty', long: 'wrong.answer.long' }, 500) });
const share = z.coerce.number().min(0).max(1);
/** A place on a page of a file, where a remark is pinned. */
export const pinSchema = z.object({ attachmentId: z.uuid(), page: z.coerce.number().int().min(1).max(5000), x: share, y: share });
/** A new version of a file that is shown for approval. */
export const newVersionSchema = z.object({
	replaces: z.uuid(),
	attachmentId: z.uuid('Choose the new file first.'),
	reason: longText('what is new in it', 1000)
});
export const dueOnSchema = z.object({ dueOn: z.iso.date('Choose a due date.') });
/** Until when a client asks for time. */
export const laterSchema = z.object({ until: z.iso.date('wrong.answer.date') });
