import { redirect } from '@sveltejs/kit';
import { localDate } from '$lib/core/calendar/firm-calendar';
import { pauseSchema } from '$lib/core/chasing/hold';
import { requireStaff } from '$lib/server/actor';
import { letAnswerIn, pauseWhileAway, turnAnswerAway } from '$lib/server/talk/answers-by-mail';
import { deskForm } from '$lib/web/desk-request';
import { idParam } from '$lib/web/form-errors';

export const load = (event) => redirect(303, `/desk/rounds/mail-${idParam(event.params.mail)}`);

export const actions = {
	letIn: (event) => deskForm(event, (tx, desk) => letAnswerIn(tx, desk.actor, idParam(event.params.mail))),
	turnAway: (event) => deskForm(event, (tx, desk) => turnAnswerAway(tx, desk.actor, idParam(event.params.mail))),
	pause: (event) =>
		deskForm(event, (tx, desk, form, firm) => {
			requireStaff(desk.actor, 'judge_item');
			const { until } = pauseSchema(localDate(desk.actor.now, firm.calendar)).parse({ until: form.get('until'), reason: 'away' });
			return pauseWhileAway(tx, desk.actor, { id: idParam(event.params.mail), until });
		})
};
