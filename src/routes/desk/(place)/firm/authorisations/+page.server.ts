import { z } from 'zod';
import { downloadAccounts, readAuthorisations } from '$lib/server/signing/payment-authorisations';
import { deskRequest } from '$lib/web/desk-request';
import { inForm, inPage } from '$lib/web/form-errors';
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

export const actions = {
	/** The accounts as a file for whoever collects; what is new is noted as handed on. */
	download: async (event) => {
		const form = await event.request.formData();
		return inForm(form, async () => {
			const desk = await deskRequest(event);
			return downloadAccounts(desk.context, desk.firmId, desk.actor, desk.context.settings.SECRET_KEY, {
				which: z.enum(['new', 'all']).parse(form.get('which')),
				password: z.string().max(400).parse(form.get('ownPassword'))
			});
		});
	}
};
