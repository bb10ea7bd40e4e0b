import { localDate } from '$lib/core/calendar/firm-calendar';
import { portalRequest } from '$lib/server/desk-request';
import { readOwnItems } from '$lib/server/requests/read-requests';
import { timeWords } from '$lib/words/dates';

export const load = async (event) => {
	const portal = await portalRequest(event);
	return portal.inFirm(async (tx, firm) => ({
		items: (await readOwnItems(tx, portal.actor)).map(
			({ id, kind, title, why, required, dueOn, state, stateAt, reason, clientName, requestTitle, papers, letter, lastActor }) => ({
				id,
				kind,
				title,
				why,
				required,
				dueOn,
				state,
				stateAt,
				reason,
				clientName,
				requestTitle,
				papers: papers.length,
				pages: letter?.pages ?? 0,
				sealed: letter?.sealedAt ?? null,
				lastActor
			})
		),
		today: localDate(portal.actor.now, firm.calendar),
		hour: Number(timeWords('en', portal.actor.now, firm.calendar.timeZone, 'time').slice(0, 2)),
		office: { name: firm.name, email: firm.mailFrom }
	}));
};
