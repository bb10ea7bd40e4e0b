import { redirect } from '@sveltejs/kit';
import { readImports } from '$lib/server/clients/import/prepare-import';
import { readServices } from '$lib/server/clients/client-record';
import { deskRequest } from '$lib/web/desk-request';
import { inForm, inPage } from '$lib/web/form-errors';
import { inviteFilterSchema, inviteMany, inviteManySchema, readRuns, summariseInvites } from '$lib/server/invitations/invite-many';
import { MESSAGE_TEXT_KIND } from '$lib/core/messages/message-texts';
import { may } from '$lib/core/people/roles';
import { timeWords } from '$lib/words/dates';
import { say } from '$lib/words/words';

export const load = async (event) => {
	event.depends('desk:live');
	const desk = await deskRequest(event);
	const filter = inviteFilterSchema.parse(Object.fromEntries(event.url.searchParams));
	return inPage(() =>
		desk.read(async (tx, firm) => ({
			filter,
			summary: await summariseInvites(tx, desk.actor, filter),
			services: await readServices(tx),
			lists: may(desk.actor.role, 'import_clients')
				? (await readImports(tx, desk.actor)).filter((list) => list.state === 'done').map(({ id, fileName }) => ({ id, fileName }))
				: [],
			runs: (await readRuns(tx, desk.actor)).map((run) => ({ ...run, begunAt: timeWords(firm.locale, run.begunAt, firm.calendar.timeZone) })),
			draft: {
				subject: say(firm.locale, 'mail.invitation.subject', { firm: firm.name }),
				body: say(firm.locale, 'mail.invitation.body', { client: '{client_name}' }),
				text: say(firm.locale, 'text.invitation', { name: '{contact_first_name}', firm: firm.name })
			},
			fields: MESSAGE_TEXT_KIND.invitation.fields,
			perSecond: desk.context.settings.BULK_MAILS_PER_SECOND
		}))
	);
};

export const actions = {
	send: async (event) => {
		const form = await event.request.formData();
		return inForm(form, async () => {
			const desk = await deskRequest(event);
			const typed = Object.fromEntries(form);
			const input = { ...inviteManySchema.parse(typed), filter: inviteFilterSchema.parse(typed) };
			const run = await desk.inFirm((tx) => inviteMany(tx, desk.actor, input, desk.context.settings.BULK_MAILS_PER_SECOND));
			redirect(303, `/desk/clients/invite/${run}`);
		});
	}
};
