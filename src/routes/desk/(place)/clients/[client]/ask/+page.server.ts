import { redirect } from '@sveltejs/kit';
import { z } from 'zod';
import { DomainError } from '$lib/core/errors/domain-error';
import { READY_MADE_LETTER } from '$lib/core/letters/ready-made-letter';
import { READY_MADE_LISTS } from '$lib/core/requests/ready-made-lists';
import { newRequestSchema } from '$lib/core/requests/request-form';
import { localDate } from '$lib/core/calendar/firm-calendar';
import { asSeenBy } from '$lib/server/firms/brands';
import { deskRequest } from '$lib/server/desk-request';
import { idParam, inForm, inPage } from '$lib/server/form-errors';
import { automaticValues } from '$lib/server/letters/prepare-letter';
import { recordValues } from '$lib/server/letters/record-values';
import { dueAfterBusinessDays, readRecipient, sendRequest } from '$lib/server/requests/send-request';
import { say } from '$lib/words/words';

export const load = async (event) => {
	const desk = await deskRequest(event);
	const clientId = idParam(event.params.client);
	return inPage(() =>
		desk.inFirm(async (tx, own) => {
			// in the brand in which the client will see it
			const firm = await asSeenBy(tx, own, { clientId });
			const contacts = await tx.rows<{ id: string }>('select contact_id id from client_contact where client_id = $1 order by rank', [clientId]);
			const known: Record<string, Record<string, string>> = {};
			for (const { id } of contacts) known[id] = automaticValues(firm, await readRecipient(tx, clientId, id), desk.actor.now);
			const { now } = desk.actor;
			const inTen = dueAfterBusinessDays(firm, now, 10);
			return {
				lists: READY_MADE_LISTS.map((list) => ({
					...list,
					lines: list.lines.map((line) => ({ ...line, dueOn: dueAfterBusinessDays(firm, now, line.dueInBusinessDays) }))
				})),
				letter: READY_MADE_LETTER,
				values: known,
				fromRecord: await recordValues(tx, desk.actor, clientId, firm.locale),
				today: localDate(now, firm.calendar),
				inTen,
				message: say(firm.locale, 'mail.request.body', { client: Object.values(known)[0]?.client_name ?? '' }),
				brand: { name: firm.name, color: firm.color }
			};
		})
	);
};

const payloadSchema = z.object({ request: z.string().max(1_500_000) });

export const actions = {
	default: async (event) => {
		const form = await event.request.formData();
		return inForm(form, async () => {
			const desk = await deskRequest(event);
			let typed: unknown;
			try {
				typed = JSON.parse(payloadSchema.parse(Object.fromEntries(form)).request);
			} catch {
				throw new DomainError('invalid', 'The request did not arrive whole. What you wrote is still here; please send it again.');
			}
			const input = newRequestSchema.parse({ ...(typed as object), clientId: idParam(event.params.client) });
			await sendRequest(desk.house, desk.firmId, desk.actor, input);
			redirect(303, `/desk/clients/${input.clientId}`);
		});
	}
};
