import { redirect } from '@sveltejs/kit';
import { z } from 'zod';
import { CLIENT_KINDS } from '$lib/core/clients/client-form';
import { oneLine } from '$lib/core/people/plain-fields';
import { deskForm } from '$lib/web/desk-request';
import { idParam } from '$lib/web/form-errors';
import { bringBack, joinToClient, makeClientOf, settleWithoutClient } from '$lib/server/public-pages/came-in';

export const load = (event) => redirect(303, `/desk/rounds/public-${idParam(event.params.answer)}`);

const clientSchema = z.object({
	name: oneLine('the client’s name', 160),
	kind: z.enum(CLIENT_KINDS, 'Choose what kind of client this is.'),
	responsibleId: z.uuid('Choose who is responsible.'),
	contactName: oneLine('the person’s name', 120)
});
const joinSchema = z.object({ clientId: z.uuid('Choose the client it belongs to.'), addPerson: z.literal('yes').optional() });

export const actions = {
	makeClient: (event) =>
		deskForm(event, (tx, desk, form) => makeClientOf(tx, desk.actor, idParam(event.params.answer), clientSchema.parse(Object.fromEntries(form)))),
	join: (event) =>
		deskForm(event, (tx, desk, form) => {
			const { clientId, addPerson } = joinSchema.parse(Object.fromEntries(form));
			return joinToClient(tx, desk.actor, idParam(event.params.answer), { clientId, addPerson: addPerson === 'yes' });
		}),
	keep: (event) => deskForm(event, (tx, desk) => settleWithoutClient(tx, desk.actor, idParam(event.params.answer), 'kept')),
	putAway: (event) => deskForm(event, (tx, desk) => settleWithoutClient(tx, desk.actor, idParam(event.params.answer), 'put_away')),
	bringBack: (event) => deskForm(event, (tx, desk) => bringBack(tx, desk.actor, idParam(event.params.answer)))
};
