import { deskRequest } from '$lib/server/desk-request';
import { idParam } from '$lib/server/form-errors';
import { readHistory } from '$lib/server/clients/read-clients';
import { readItemsOfClient } from '$lib/server/requests/read-requests';
import { readNextChases } from '$lib/server/rounds/read-leaf';
import { localDate } from '$lib/core/calendar/firm-calendar';

const HISTORY_SHOWN = 12;

export const load = async (event) => {
	event.depends('desk:live');
	const desk = await deskRequest(event);
	const id = idParam(event.params.client);
	return desk.inFirm(async (tx, firm) => ({
		items: await readItemsOfClient(tx, desk.actor, id),
		chases: await readNextChases(tx, desk.actor, firm, id),
		history: await readHistory(tx, desk.actor, id, null, HISTORY_SHOWN),
		today: localDate(desk.actor.now, firm.calendar)
	}));
};
