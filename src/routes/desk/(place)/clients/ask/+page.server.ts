import { redirect } from '@sveltejs/kit';
import { z } from 'zod';
import { readServices } from '$lib/server/clients/client-record';
import { deskRequest } from '$lib/web/desk-request';
import { inForm, inPage } from '$lib/web/form-errors';
import { readLists } from '$lib/server/library/request-lists';
import { askManyFilterSchema, MANY_CLIENTS, prepareForMany, proposeForMany } from '$lib/server/requests/ask-many';

export const load = async (event) => {
	event.depends('desk:live');
	const desk = await deskRequest(event);
	const filter = askManyFilterSchema.parse(Object.fromEntries(event.url.searchParams));
	const listId = z.uuid().nullable().catch(null).parse(event.url.searchParams.get('list'));
	return inPage(() =>
		desk.read(async (tx, firm) => {
			const lists = (await readLists(tx, desk.actor)).map(({ id, name, lineCount, goesByItself, services }) => ({
				id,
				name,
				lines: lineCount,
				goesByItself,
				services
			}));
			const list = lists.find((one) => one.id === listId) ?? null;
			return {
				filter,
				lists,
				list,
				lines: list ? await proposeForMany(tx, desk.actor, firm, list.id, filter) : [],
				most: MANY_CLIENTS,
				services: (await readServices(tx)).map((service) => service.name)
			};
		})
	);
};

export const actions = {
	make: async (event) => {
		const form = await event.request.formData();
		return inForm(form, async () => {
			const desk = await deskRequest(event);
			const send = form.get('send') === 'yes';
			await desk.inFirm((tx) =>
				prepareForMany(tx, desk.actor, {
					listId: z.uuid('Choose a list.').parse(form.get('list')),
					filter: askManyFilterSchema.parse(Object.fromEntries(form)),
					runId: z.uuid().parse(form.get('runId')),
					send
				})
			);
			redirect(303, send ? '/desk/clients/asked?show=open' : '/desk/clients/asked?show=drafts');
		});
	}
};
