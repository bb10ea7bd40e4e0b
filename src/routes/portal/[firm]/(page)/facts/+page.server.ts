import { isToConfirm } from '$lib/core/facts/confirming';
import { confirmOwnFact, readOwnFacts, sayOwnFact } from '$lib/server/clients/client-facts';
import { portalRequest } from '$lib/web/desk-request';
import { saidFact } from '$lib/web/fact-forms';
import { idParam, inForm } from '$lib/web/form-errors';
import { factInWords } from '$lib/core/facts/fact-words';
import { factLabel } from '$lib/words/fact-labels';
import { factReader } from '$lib/words/facts';

export const load = async (event) => {
	const portal = await portalRequest(event);
	return portal.read(async (tx, firm) => {
		const { definitions, clients } = await readOwnFacts(tx, portal.actor);
		const reader = factReader(portal.locale, firm.country);
		return {
			definitions: definitions.map((definition) => ({ ...definition, label: factLabel(portal.locale, definition) })),
			clients: clients.map((client) => ({
				...client,
				facts: client.facts.flatMap((fact) => {
					const definition = definitions.find(({ name }) => name === fact.name);
					return definition
						? [
								{
									...fact,
									words: factInWords(definition, fact.value, reader),
									toConfirm: !definition.retired && isToConfirm(definition, fact, portal.actor.now, firm.calendar)
								}
							]
						: [];
				})
			}))
		};
	});
};

export const actions = {
	say: async (event) => {
		const form = await event.request.formData();
		const portal = await portalRequest(event);
		return inForm(
			form,
			async () => {
				const input = { clientId: idParam(String(form.get('clientId') ?? '')), ...saidFact(form) };
				await portal.inFirm((tx) => sayOwnFact(tx, portal.actor, input));
				return { done: true };
			},
			portal.locale
		);
	},
	confirm: async (event) => {
		const form = await event.request.formData();
		const portal = await portalRequest(event);
		return inForm(
			form,
			async () => {
				const input = { clientId: idParam(String(form.get('clientId') ?? '')), name: String(form.get('name') ?? '') };
				await portal.inFirm((tx) => confirmOwnFact(tx, portal.actor, input));
				return { done: true };
			},
			portal.locale
		);
	}
};
