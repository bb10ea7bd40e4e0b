import { error, redirect } from '@sveltejs/kit';
import { portalRequest } from '$lib/web/desk-request';
import { idParam, inForm } from '$lib/web/form-errors';
import { raiseRequest, readOfferedForms } from '$lib/server/requests/own-requests';
import { say } from '$lib/words/words';

export const load = async (event) => {
	const portal = await portalRequest(event);
	const clients = await portal.read((tx) => readOfferedForms(tx, portal.actor));
	if (clients.length === 0) error(404, say(portal.locale, 'wrong.form.unknown'));
	return { clients };
};

export const actions = {
	begin: async (event) => {
		const form = await event.request.formData();
		const portal = await portalRequest(event);
		return inForm(
			form,
			async () => {
				const input = { clientId: idParam(String(form.get('clientId') ?? '')), formId: idParam(String(form.get('formId') ?? '')) };
				redirect(303, `/portal/${event.params.firm}/item/${await portal.inFirm((tx) => raiseRequest(tx, portal.actor, input))}`);
			},
			portal.locale
		);
	}
};
