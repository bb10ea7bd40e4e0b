import { redirect } from '@sveltejs/kit';
import { z } from 'zod';
import { longText, oneLine } from '$lib/core/people/plain-fields';
import { deskRequest } from '$lib/web/desk-request';
import { idParam, inForm } from '$lib/web/form-errors';
import { inviteContacts, inviteSchema, linkForContact, textMessageBodySchema } from '$lib/server/invitations/invite';
import { previewInvitation } from '$lib/server/invitations/invitation-words';

export const load = (event) => redirect(303, `/desk/clients/${idParam(event.params.client)}`);

const previewSchema = z.object({
	contactId: z.uuid(),
	subject: oneLine('a subject', 160),
	body: longText('the words of the message', 4000),
	textBody: textMessageBodySchema
});

export const actions = {
	send: async (event) => {
		const form = await event.request.formData();
		return inForm(form, async () => {
			const desk = await deskRequest(event);
			const input = inviteSchema.parse({ ...Object.fromEntries(form), contactIds: form.getAll('contactId'), clientId: event.params.client });
			await desk.inFirm((tx) => inviteContacts(tx, desk.actor, input));
			return { done: true };
		});
	},
	/** The message as it would look; asked by the form while it is written. */
	preview: async (event) => {
		const form = await event.request.formData();
		return inForm(form, async () => {
			const desk = await deskRequest(event);
			const { ORIGIN: origin, SECRET_KEY: secretKey } = desk.context.settings;
			const input = { clientId: idParam(event.params.client), ...previewSchema.parse(Object.fromEntries(form)) };
			return { preview: await desk.inFirm((tx) => previewInvitation(tx, desk.actor, input, { origin, secretKey })) };
		});
	},
	/** The link for handing over in another way. */
	makeLink: async (event) => {
		const form = await event.request.formData();
		return inForm(form, async () => {
			const desk = await deskRequest(event);
			const { ORIGIN: origin, SECRET_KEY: secretKey } = desk.context.settings;
			const input = { clientId: idParam(event.params.client), contactId: idParam(String(form.get('contactId') ?? '')) };
			return { link: await desk.inFirm((tx) => linkForContact(tx, desk.actor, input, { origin, secretKey })) };
		});
	}
};
