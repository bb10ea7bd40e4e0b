import { z } from 'zod';

const somebody = z.union([z.literal(''), z.uuid()], 'Please choose a colleague.');

/** The form in which what a client wrote is given to a colleague to answer. */
export const giveSchema = z.object({
	/** to whom; empty for nobody in particular */ to: somebody,
	/** who had it when the form was filled in; empty for nobody */ had: somebody
});
export type Giving = z.infer<typeof giveSchema>;
