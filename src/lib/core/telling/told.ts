import { z } from 'zod';

/** What is told to somebody of the firm: what happened, what waits, who is away. */
export const toldSchema = z.object({
	/** the period, instants */
	since: z.string(),
	through: z.string(),
	/** what happened, by client; null for nobody's in particular */
	clients: z.array(z.object({ clientId: z.uuid().nullable(), name: z.string().nullable(), lines: z.array(z.string()), more: z.number().int() })),
	moreClients: z.number().int(),
	waits: z.array(z.object({ title: z.string(), count: z.number().int(), since: z.string() })),
	away: z.array(z.object({ clientId: z.uuid(), clientName: z.string(), who: z.string(), until: z.string() }))
});
export type Told = z.infer<typeof toldSchema>;
