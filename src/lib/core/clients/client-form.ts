import { z } from 'zod';
import { oneLine, optionalEmailField } from '../people/plain-fields';

export const CLIENT_KINDS = ['business', 'person'] as const;

const contactFields = z.object({
	/** set when an existing contact was chosen instead of a new one */
	id: z.uuid().nullable(),
	name: oneLine('the contact’s name', 120),
	/** null while nobody knows it: nothing goes to them until it is added */
	email: optionalEmailField
});

/** What a person fills in to add a client. */
export const newClientSchema = z
	.object({
		name: oneLine('the client’s name', 160),
		kind: z.enum(CLIENT_KINDS, 'Choose what kind of client this is.'),
		responsibleId: z.uuid('Choose who is responsible.'),
		contacts: z.array(contactFields).min(1).max(2)
	})
	.refine(({ contacts }) => contacts.length < 2 || !contacts[0].email || contacts[0].email.toLowerCase() !== contacts[1].email?.toLowerCase(), {
		path: ['contacts', 1, 'email'],
		message: 'This is the first contact’s address. The second contact needs one of their own.'
	});
export type NewClient = z.infer<typeof newClientSchema>;
