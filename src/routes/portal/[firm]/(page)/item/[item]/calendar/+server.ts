import { error } from '@sveltejs/kit';
import { z } from 'zod';
import { calendarFile } from '$lib/core/calendar/calendar-file';
import { ITEM_SPECS } from '$lib/core/requests/item-kinds';
import { portalRequest } from '$lib/server/desk-request';
import { idParam, inPage } from '$lib/server/form-errors';
import { readOwnItem } from '$lib/server/requests/read-requests';

const booked = z.object({ time: z.iso.datetime() });

/** The time that was booked, for the client's own calendar. */
export const GET = async (event) => {
	const portal = await portalRequest(event);
	return inPage(
		() =>
			portal.inFirm(async (tx, firm) => {
				const item = await readOwnItem(tx, portal.actor, idParam(event.params.item));
				const answer = booked.safeParse(item.answerData);
				if (item.kind !== 'book' || !answer.success) error(404, 'There is nothing here.');
				const { minutes, where } = ITEM_SPECS.book.parse(item.spec);
				const file = calendarFile(
					{
						uid: `${item.id}@humble-lantern.${firm.id.slice(0, 8)}`,
						at: answer.data.time,
						minutes,
						title: `${item.title}, ${firm.name}`,
						where,
						organizer: { name: firm.name, email: firm.mailFrom }
					},
					portal.actor.now
				);
				return new Response(file, {
					headers: { 'content-type': 'text/calendar; charset=utf-8', 'content-disposition': 'attachment; filename="appointment.ics"' }
				});
			}),
		portal.locale
	);
};
