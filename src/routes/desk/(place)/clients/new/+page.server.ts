import { redirect } from '@sveltejs/kit';
import { z } from 'zod';
import { newClientSchema } from '$lib/core/clients/client-form';
import { addClient, findContactByEmail } from '$lib/server/clients/add-client';
import { findLikelySame } from '$lib/server/clients/find-clients';
import { readStaff } from '$lib/server/clients/read-clients';
import { deskRequest } from '$lib/web/desk-request';
import { domainWithoutMail } from '$lib/server/clients/mail-domain';
import { inForm } from '$lib/web/form-errors';
import { emailField } from '$lib/core/people/plain-fields';

export const load = async (event) => {
	const desk = await deskRequest(event);
	return { staff: await desk.read((tx) => readStaff(tx)), me: desk.actor.id };
};

const text = z.string().default('');
const formSchema = z.object({
	name: text,
	kind: text,
	responsibleId: text,
	name0: text,
	email0: text,
	id0: text,
	name1: text,
	email1: text,
	id1: text
});

export const actions = {
	add: async (event) => {
		const form = await event.request.formData();
		return inForm(form, async () => {
			const desk = await deskRequest(event);
			const typed = formSchema.parse(Object.fromEntries(form));
			const contacts = [{ id: typed.id0 || null, name: typed.name0, email: typed.email0 }];
			if (typed.name1.trim() || typed.email1.trim()) contacts.push({ id: typed.id1 || null, name: typed.name1, email: typed.email1 });
			const input = newClientSchema.parse({ name: typed.name, kind: typed.kind, responsibleId: typed.responsibleId, contacts });
			const clientId = await desk.inFirm((tx) => addClient(tx, desk.actor, input));
			redirect(303, `/desk/clients/${clientId}`);
		});
	},
	/** Asked while a name is typed: is this client there already? */
	findLike: async (event) => {
		const name = z
			.string()
			.max(200)
			.catch('')
			.parse((await event.request.formData()).get('name'));
		const desk = await deskRequest(event);
		return { like: await desk.inFirm((tx) => findLikelySame(tx, desk.actor, name)) };
	},
	/** Asked while an address is typed: is this somebody we know? */
	findKnown: async (event) => {
		const form = await event.request.formData();
		const email = emailField.safeParse(String(form.get('email') ?? ''));
		if (!email.success) return { known: null, noMailAt: null };
		const desk = await deskRequest(event);
		return {
			known: await desk.inFirm((tx) => findContactByEmail(tx, email.data)),
			noMailAt: await domainWithoutMail(desk.context.mailDomains, email.data)
		};
	}
};
