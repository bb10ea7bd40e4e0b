import { deskRequest } from '$lib/web/desk-request';
import { isOnlyMine, readRounds } from '$lib/server/rounds/read-rounds';
import { ageWords, dateWords, timeWords } from '$lib/words/dates';

export const load = async (event) => {
	event.depends('desk:live');
	const desk = await deskRequest(event);
	const { now } = desk.actor;
	return desk.read(async (tx, firm) => {
		const mineOf = (await isOnlyMine(tx, desk.actor)) ? desk.actor.id : null;
		const { rows, lastLooked } = await readRounds(tx, desk.actor, firm, { due: (date) => dateWords(firm.locale, date) }, mineOf);
		return {
			rows: rows.map((row) => ({ ...row, age: ageWords(row.since, now) })),
			lastLooked: lastLooked && timeWords(firm.locale, lastLooked, firm.calendar.timeZone),
			hour: Number(timeWords('en', now, firm.calendar.timeZone, 'time').slice(0, 2))
		};
	});
};
