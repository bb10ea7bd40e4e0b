import { redirect } from '@sveltejs/kit';
import { localDate } from '$lib/core/calendar/firm-calendar';
import { pauseSchema } from '$lib/core/chasing/hold';
import { requireStaff } from '$lib/server/actor';
import { requireMailDomain } from '$lib/server/clients/mail-domain';
import { addressNamedBy, letAnswerIn, pauseWhileAway, turnAnswerAway, useNewAddress } from '$lib/server/talk/answers-by-mail';
import { deskForm, deskRequest } from '$lib/web/desk-request';
import { idParam, inForm } from '$lib/web/form-errors';

export const load = (event) => redirect(303, `/desk/rounds/mail-${idParam(event.params.mail)}`);

export const actions = {
	letIn: (event) => deskForm(event, (tx, desk) => letAnswerIn(tx, desk.actor, idParam(event.params.mail))),
	useAddress: async (event) => {
		const form = await event.request.formData();
		return inForm(form, async () => {
			const desk = await deskRequest(event);
			requireStaff(desk.actor, 'invite');
			const id = idParam(event.params.mail);
			// no transaction waits for the name servers
			const address = await desk.inFirm((tx) => addressNamedBy(tx, desk.actor, id));
			await requireMailDomain(desk.context.mailDomains, address, form.get('anyway') === 'yes');
			await desk.inFirm((tx) => useNewAddress(tx, desk.actor, id));
			return { done: true };
		});
	},
	turnAway: (event) => deskForm(event, (tx, desk) => turnAnswerAway(tx, desk.actor, idParam(event.params.mail))),
	pause: (event) =>
		deskForm(event, (tx, desk, form, firm) => {
			requireStaff(desk.actor, 'judge_item');
			const { until } = pauseSchema(localDate(desk.actor.now, firm.calendar)).parse({ until: form.get('until'), reason: 'away' });
			return pauseWhileAway(tx, desk.actor, { id: idParam(event.params.mail), until });
		})
};
