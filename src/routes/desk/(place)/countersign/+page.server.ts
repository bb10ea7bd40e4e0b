import { requireStaff } from '$lib/server/actor';
import { countersignMany, countersignManySchema, readToCountersign } from '$lib/server/signing/countersign-many';
import { deskRequest } from '$lib/web/desk-request';
import { inForm, inPage, jsonField } from '$lib/web/form-errors';

export const load = async (event) => {
	const desk = await deskRequest(event);
	return inPage(() => desk.inFirm(async (tx) => ({ letters: await readToCountersign(tx, desk.actor) })));
};

export const actions = {
	sign: async (event) => {
		const form = await event.request.formData();
		return inForm(form, async () => {
			const desk = await deskRequest(event);
			requireStaff(desk.actor, 'countersign');
			const input = countersignManySchema.parse({
				letters: jsonField(form, 'letters', 20_000, 'The choice did not arrive whole. Please try again.'),
				password: String(form.get('ownPassword') ?? '')
			});
			return { done: true, results: await countersignMany(desk.context, desk.firmId, desk.actor, input) };
		});
	}
};
