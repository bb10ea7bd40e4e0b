import { sayFactSchema } from '$lib/core/clients/facts';
import { readOwnFacts, sayOwnFact } from '$lib/server/clients/client-record';
import { portalRequest } from '$lib/web/desk-request';
import { idParam, inForm } from '$lib/web/form-errors';

export const load = async (event) => {
	const portal = await portalRequest(event);
	return portal.read(async (tx) => ({ clients: await readOwnFacts(tx, portal.actor) }));
};

export const actions = {
	say: async (event) => {
		const form = await event.request.formData();
		const portal = await portalRequest(event);
		return inForm(
			form,
			async () => {
				const input = { clientId: idParam(String(form.get('clientId') ?? '')), ...sayFactSchema.parse(Object.fromEntries(form)) };
				await portal.inFirm((tx) => sayOwnFact(tx, portal.actor, input));
				return { done: true };
			},
			portal.locale
		);
	}
};
