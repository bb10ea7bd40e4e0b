import { error } from '@sveltejs/kit';
import { calendarFile } from '$lib/core/calendar/calendar-file';
import { portalRequest } from '$lib/web/desk-request';
import { idParam, inPage } from '$lib/web/form-errors';
import { readOwnItem } from '$lib/server/items/read-items';

/** The time that was booked, for the client's own calendar. */
export const GET = async (event) => {
	const portal = await portalRequest(event);
	return inPage(
		() =>
			portal.inFirm(async (tx, firm) => {
				const item = await readOwnItem(tx, portal.actor, idParam(event.params.item));
				// who booked on a linked page has no time here
				if (item.kind !== 'book' || !item.answerData) error(404, 'There is nothing here.');
				const { minutes, where } = item.spec;
				const file = calendarFile(
					{
						uid: `${item.id}@humble-lantern.${firm.id.slice(0, 8)}`,
						at: item.answerData.time,
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
