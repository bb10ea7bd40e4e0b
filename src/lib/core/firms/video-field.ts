import { z } from 'zod';

/** The address of a video; empty becomes null. What cannot be embedded is shown as a link. */
export const videoField = z
	.string()
	.max(400, 'This address is too long.')
	.optional()
	.transform((typed) => typed?.trim() || null)
	.pipe(z.url({ protocol: /^https$/, error: 'Write the whole address, beginning with https://' }).nullable());
