import { error } from '@sveltejs/kit';
import { deskRequest } from '$lib/web/desk-request';
import { idParam, inPage } from '$lib/web/form-errors';
import { readLetterTrail } from '$lib/server/signing/letter-trail';
import { trailLines } from '$lib/words/trail-lines';

export const load = async (event) => {
	event.depends('desk:live');
	const desk = await deskRequest(event);
	return inPage(() =>
		desk.read(async (tx, firm) => {
			const { entries, ...trail } = await readLetterTrail(tx, desk.actor, idParam(event.params.item));
			if (trail.clientId !== event.params.client) error(404, 'There is nothing here.');
			return { trail, lines: trailLines(entries, firm.calendar.timeZone) };
		})
	);
};
