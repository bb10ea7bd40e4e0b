import { WEEKDAYS } from '$lib/core/chasing/chase-plan';
import { may, type Role } from '$lib/core/people/roles';
import { isTold, TOLD_KINDS, verbsTold, type Telling } from '$lib/core/telling/telling';
import { requireStaff } from '$lib/server/actor';
import { changeUsualTelling, readTellingOfAll, readUsualTelling } from '$lib/server/telling/settings';
import { deskForm, deskRequest } from '$lib/web/desk-request';
import { typedTelling } from '$lib/web/telling-form';

/** How somebody is told, in a line. */
function inWords(telling: Telling, role: Role): string {
	if (!isTold(telling, role)) return 'nothing by e-mail';
	const summary =
		telling.summary === 'daily'
			? `a summary on business days at ${telling.time}`
			: telling.summary === 'weekly'
				? `a summary on ${WEEKDAYS[telling.weekday - 1]}s at ${telling.time}`
				: '';
	const atOnce = verbsTold(telling, role, 'at_once').length > 0 ? 'some things at once' : '';
	return `${[summary, atOnce].filter(Boolean).join(', ')}; ${telling.whose === 'mine' ? 'of clients they look after' : 'of all clients they may see'}`;
}

export const load = async (event) => {
	const desk = await deskRequest(event);
	return desk.read(async (tx) => {
		requireStaff(desk.actor, 'look');
		return {
			usual: await readUsualTelling(tx),
			kinds: TOLD_KINDS,
			maySetUp: may(desk.actor.role, 'set_up_firm'),
			people: (await readTellingOfAll(tx, desk.actor)).map(({ telling, role, ...person }) => ({ ...person, words: inWords(telling, role) }))
		};
	});
};

export const actions = {
	save: (event) =>
		deskForm(event, async (tx, desk, form) => {
			requireStaff(desk.actor, 'set_up_firm');
			await changeUsualTelling(tx, desk.actor, typedTelling(form, await readUsualTelling(tx)));
		})
};
