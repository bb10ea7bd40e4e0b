import { deskRequest } from '$lib/server/desk-request';
import { forecastInvitationChases } from '$lib/server/chasing/chase-invitations';
import { peopleToForecast, readForecast } from '$lib/server/chasing/read-forecast';
import { readAppearing } from '$lib/server/schedules/standing-requests';
import { chaseSentence } from '$lib/server/rounds/read-leaf';
import { addDays, localDate } from '$lib/core/calendar/firm-calendar';
import { timeWords } from '$lib/words/dates';

/** How far the Almanac looks ahead, in days. */
const DAYS = 28;
const SHOWN = 400;

export const load = async (event) => {
	event.depends('desk:live');
	const desk = await deskRequest(event);
	return desk.inFirm(async (tx, firm) => {
		const people = await peopleToForecast(tx, firm, desk.actor.now, DAYS);
		const chases = await readForecast(tx, desk.actor, firm, people, DAYS);
		const invitations = await forecastInvitationChases(tx, desk.actor, firm, addDays(localDate(desk.actor.now, firm.calendar), DAYS));
		return {
			today: localDate(desk.actor.now, firm.calendar),
			total: [...chases, ...invitations].reduce((sum, c) => sum + c.by.length, 0),
			appears: await readAppearing(tx, desk.actor, firm, DAYS),
			chases: [
				...chases.slice(0, SHOWN).map((c) => ({
					at: c.at,
					key: `${c.contactId} ${c.localDay}`,
					day: c.localDay,
					time: timeWords(firm.locale, c.at, firm.calendar.timeZone, 'time'),
					name: c.contactName,
					clients: [...new Map(c.items.map((i) => [i.clientId, i.clientName]))].map(([id, name]) => ({ id, name })),
					things: c.items.length === 1 ? '1 thing' : `${c.items.length} things`,
					...chaseSentence(c, firm),
					by: c.by
				})),
				...invitations.slice(0, SHOWN).map((c) => ({
					at: c.at,
					key: `invitation ${c.contactId}`,
					day: c.localDay,
					time: timeWords(firm.locale, c.at, firm.calendar.timeZone, 'time'),
					name: c.contactName,
					clients: [{ id: c.clientId, name: c.clientName }],
					things: 'invitation',
					when: '',
					why: `because it is ${c.businessDays} business days after the invitation was sent`,
					heldBack: false,
					by: c.by
				}))
			].sort((a, b) => a.at.localeCompare(b.at) || a.name.localeCompare(b.name))
		};
	});
};
