import { chasePlanInWords, chaseStepsInWords } from '$lib/core/chasing/chase-plan';
import { localDate } from '$lib/core/calendar/firm-calendar';
import { countTheirs } from '$lib/core/rounds/sections';
import { deskRequest } from '$lib/web/desk-request';
import { readDeskHead } from '$lib/server/rounds/desk-head';
import { isOnlyMine } from '$lib/server/rounds/read-rounds';
import { timeWords } from '$lib/words/dates';

export const load = async (event) => {
	event.depends('desk:live');
	const desk = await deskRequest(event);
	const { now } = desk.actor;
	return desk.read(async (tx, firm) => {
		const onlyMine = await isOnlyMine(tx, desk.actor);
		const { latestEvent, rounds, nextChases: next } = await readDeskHead(tx, firm, now, onlyMine ? desk.actor.id : null, desk.actor.id);
		return {
			firm: { name: firm.name, slug: firm.slug, timeZone: firm.calendar.timeZone },
			person: { id: event.locals.signedIn!.personId, name: desk.actor.name, email: event.locals.signedIn!.email, role: desk.actor.role },
			now,
			latestEvent,
			nowWords: timeWords(firm.locale, now, firm.calendar.timeZone),
			rounds,
			/** Rounds is about the clients they look after, and so are its counts */
			onlyMine,
			/** what waits for this person, by what their role may do */
			roundsCount: countTheirs(desk.actor.role, rounds),
			nextChases: next && {
				words: timeWords(
					firm.locale,
					next.at,
					firm.calendar.timeZone,
					localDate(next.at, firm.calendar) === localDate(now, firm.calendar) ? 'time' : 'full'
				),
				people: next.people
			},
			/** in which clients read who have not chosen */
			clientLanguage: firm.clientLanguage,
			/** in the practice workspace */
			practice: firm.isPractice,
			/** when reminders go, in words */
			reminders: {
				things: chasePlanInWords(firm.chasePlan),
				invitation: chaseStepsInWords(firm.invitationSteps).after
			},
			/** text messages can be sent */
			texts: desk.context.texts !== null,
			demo: desk.context.settings.DEMO && firm.isDemo
		};
	});
};
