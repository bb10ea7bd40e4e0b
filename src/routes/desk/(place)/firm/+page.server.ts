import { deskRequest } from '$lib/server/desk-request';
import { loadFirm } from '$lib/server/firms/firm';
import { readStaff } from '$lib/server/clients/read-clients';

export const load = async (event) => {
	const desk = await deskRequest(event);
	return desk.inFirm(async (tx) => {
		const firm = await loadFirm(tx);
		return {
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
			origin: desk.house.settings.ORIGIN
		};
	});
};
