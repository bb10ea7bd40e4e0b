import { redirect } from '@sveltejs/kit';
import { z } from 'zod';
import { emailField } from '$lib/core/people/plain-fields';
import { deskForm, deskRequest } from '$lib/web/desk-request';
import { idParam, inForm } from '$lib/web/form-errors';
import { mendAddress } from '$lib/server/clients/add-client';
import { requireMailDomain } from '$lib/server/clients/mail-domain';
import { markStopSeen } from '$lib/server/people/stop-reminders';
import { requireStaff } from '$lib/server/actor';

const addressSchema = z.object({ email: emailField });

export const load = () => redirect(303, '/desk/clients');

export const actions = {
	/** That they want no more reminders has been seen. */
	seen: (event) => deskForm(event, (tx, desk) => markStopSeen(tx, desk.actor, idParam(event.params.contact))),
	changeAddress: async (event) => {
		const form = await event.request.formData();
		return inForm(form, async () => {
			const desk = await deskRequest(event);
			requireStaff(desk.actor, 'invite');
			const { email } = addressSchema.parse(Object.fromEntries(form));
			await requireMailDomain(desk.context.mailDomains, email, form.get('anyway') === 'yes');
			await desk.inFirm((tx) => mendAddress(tx, desk.actor, idParam(event.params.contact), email));
			return { done: true };
		});
	}
};
