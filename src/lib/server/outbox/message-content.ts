import { z } from 'zod';
import { toldSchema } from '$lib/core/telling/told';

/** What a message needs to be written when it is sent. Links with secrets are made only then. */
export const messageContentSchema = z.object({
	/** words a person wrote; without them the catalogue's are used */
	subject: z.string().optional(),
	body: z.string().optional(),
	/** the person of the firm whose name stands below */
	signedBy: z.string().optional(),
	clientName: z.string().optional(),
	itemTitle: z.string().optional(),
	reason: z.string().optional(),
	/** sent back because there is a new version to look at */
	renewed: z.boolean().optional(),
	/** nobody pressed for it just now: it leaves in the firm's sending hours */
	inSendingHours: z.boolean().optional(),
	/** somebody of the firm sent it before its day: the person's own times do not hold it */
	byHand: z.boolean().optional(),
	/** a reminder in the firmer words */
	firmer: z.boolean().optional(),
	/** whom a partner is told of, with what is open, and where it is noted */
	contactName: z.string().optional(),
	titles: z.array(z.string()).optional(),
	callId: z.uuid().optional(),
	/** the note in which somebody of the firm is named */
	noteId: z.uuid().optional(),
	/** what was written, which it brings, or which somebody of the firm is given to answer */
	remarkId: z.uuid().optional(),
	/** what a person of the firm is told of */
	told: toldSchema.optional(),
	/** an invitation whose link goes into the message */
	invitationId: z.uuid().optional(),
	/** a sign-in that waits for the code which this message brings */
	stepId: z.uuid().optional(),
	/** a phone that is being set up for the second step; the message brings its code */
	factorId: z.uuid().optional(),
	/** somebody at the door of a letter, who waits for the code which this message brings */
	visitId: z.uuid().optional(),
	/** what a browser that signed in says of itself, and when */
	device: z.string().optional(),
	at: z.string().optional(),
	/** what changed about how somebody signs in */
	change: z
		.enum([
			'authenticator_added',
			'authenticator_removed',
			'text_added',
			'text_removed',
			'passkey_added',
			'passkey_removed',
			'recovery_codes_made',
			'recovery_code_used',
			'address_changed',
			'cleared_by_firm'
		])
		.optional(),
	/** the item the message is about, for its link */
	itemId: z.uuid().optional(),
	/** how many of the open things are new, and told with a reminder: one message a day */
	news: z.number().int().optional(),
	/** papers that were shown to them, of which it tells */
	paperIds: z.array(z.uuid()).optional(),
	/** a file of the paper store that goes along */
	attachment: z.object({ key: z.string(), name: z.string() }).optional()
});
export type MessageContent = z.infer<typeof messageContentSchema>;
