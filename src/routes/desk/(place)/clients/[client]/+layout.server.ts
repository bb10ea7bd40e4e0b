import { deskRequest } from '$lib/web/desk-request';
import { idParam, inPage } from '$lib/web/form-errors';
import { readActs } from '$lib/server/clients/client-rights';
import { readClient } from '$lib/server/clients/read-clients';
import { invitationDraft } from '$lib/server/invitations/invitation-draft';

export const load = async (event) => {
	event.depends('desk:live');
	const desk = await deskRequest(event);
	const id = idParam(event.params.client);
	return inPage(() =>
		desk.read(async (tx, firm) => {
			const client = await readClient(tx, desk.actor, id);
			return { client, acts: await readActs(tx, desk.actor, id), invitationDraft: invitationDraft(firm, client.name) };
		})
	);
};
