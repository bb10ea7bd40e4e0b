import { serviceSchema } from '$lib/core/clients/record-forms';
import { may } from '$lib/core/people/roles';
import { readStaff } from '$lib/server/clients/read-clients';
import { deskRequest } from '$lib/server/desk-request';
import { addService, endService, readServiceUse } from '$lib/server/firms/services';
import { idParam, inForm } from '$lib/server/form-errors';

export const load = async (event) => {
	event.depends('desk:live');
	const desk = await deskRequest(event);
	return desk.inFirm(async (tx, firm) => ({
		details: {
			name: firm.name,
			address: firm.address,
			slug: firm.slug,
			color: firm.color,
			mailFrom: firm.mailFrom,
			calendar: firm.calendar,
			chasePlan: firm.chasePlan
		},
		staff: await readStaff(tx),
		services: await readServiceUse(tx),
		maySetUp: desk.actor.role !== null && may(desk.actor.role, 'set_up_firm'),
		origin: desk.house.settings.ORIGIN
	}));
};

export const actions = {
	addService: async (event) => {
		const form = await event.request.formData();
		return inForm(form, async () => {
			const desk = await deskRequest(event);
			const { name } = serviceSchema.parse(Object.fromEntries(form));
			await desk.inFirm((tx) => addService(tx, desk.actor, name));
			return { done: true };
		});
	},
	endService: async (event) => {
		const form = await event.request.formData();
		return inForm(form, async () => {
			const desk = await deskRequest(event);
			await desk.inFirm((tx) => endService(tx, desk.actor, idParam(String(form.get('serviceId') ?? ''))));
			return { done: true };
		});
	}
};
