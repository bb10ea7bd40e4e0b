import { ANSWERS_SHOWN, readAnswersOfMany, readPutAway } from '$lib/server/requests/answers-of-many';
import { may } from '$lib/core/people/roles';
import { deskRequest } from '$lib/web/desk-request';
import { idParam, inPage } from '$lib/web/form-errors';
import { dateWords, dayOf } from '$lib/words/dates';

export const load = async (event) => {
	event.depends('desk:live');
	const desk = await deskRequest(event);
	const id = idParam(event.params.questionnaire);
	return inPage(() =>
		desk.read(async (tx, firm) => {
			const { all, ...answers } = await readAnswersOfMany(tx, desk.actor, id, ANSWERS_SHOWN);
			return {
				id,
				...answers,
				all: all.map((one) => ({ ...one, atWords: dateWords(firm.locale, dayOf(one.at, firm.calendar.timeZone), 'withYear') })),
				putAway: (await readPutAway(tx, desk.actor, id)).map((one) => ({
					...one,
					cameAt: dateWords(firm.locale, dayOf(one.cameAt, firm.calendar.timeZone), 'withYear')
				})),
				mayJudge: may(desk.actor.role, 'judge_item'),
				most: ANSWERS_SHOWN
			};
		})
	);
};
