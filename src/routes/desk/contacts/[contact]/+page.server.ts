import { redirect } from '@sveltejs/kit';
import { z } from 'zod';
import { emailField } from '$lib/core/people/plain-fields';
import { deskRequest } from '$lib/server/desk-request';
import { idParam, inForm } from '$lib/server/form-errors';
import { mendAddress } from '$lib/server/clients/add-client';

const addressSchema = z.object({ email: emailField });

export const load = () => redirect(303, '/desk/clients');

export const actions = {
	address: async (event) => {
		const form = await event.request.formData();
		return inForm(form, async () => {
			const desk = await deskRequest(event);
			const { email } = addressSchema.parse(Object.fromEntries(form));
			await desk.inFirm((tx) => mendAddress(tx, desk.actor, idParam(event.params.contact), email));
			return { done: true };
		});
	}
};
