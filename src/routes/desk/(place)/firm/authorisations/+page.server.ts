import { readAuthorisations } from '$lib/server/signing/payment-authorisations';
import { deskRequest } from '$lib/web/desk-request';
import { inPage } from '$lib/web/form-errors';
import { dateWords, dayOf } from '$lib/words/dates';

export const load = async (event) => {
	event.depends('desk:live');
	const desk = await deskRequest(event);
	return inPage(() =>
		desk.read(async (tx, firm) => {
			const day = (at: string) => dateWords('en', dayOf(at, firm.calendar.timeZone));
			return {
				authorisations: (await readAuthorisations(tx, desk.actor)).map(({ givenAt, handedOnAt, ...rest }) => ({
					...rest,
					given: day(givenAt),
					handedOn: handedOnAt && day(handedOnAt)
				}))
			};
		})
	);
};
