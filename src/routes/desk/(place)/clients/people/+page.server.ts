import { z } from 'zod';
import { personSchema } from '$lib/core/clients/record-forms';
import { phoneInWords } from '$lib/core/people/phone';
import { may } from '$lib/core/people/roles';
import { addPerson, changePerson, joinClient, PEOPLE_ROWS, readPeopleList } from '$lib/server/clients/people-list';
import { deskForm, deskRequest } from '$lib/web/desk-request';
import { idParam } from '$lib/web/form-errors';

const afterSchema = z
	.string()
	.regex(/^.{1,200}~[0-9a-f-]{36}$/)
	.transform((text) => ({ name: text.slice(0, text.lastIndexOf('~')), id: text.slice(text.lastIndexOf('~') + 1) }))
	.nullable()
	.catch(null);

export const load = async (event) => {
	event.depends('desk:live');
	const desk = await deskRequest(event);
	const { searchParams } = event.url;
	const filter = {
		nowhere: searchParams.get('only') === 'nowhere',
		search: (searchParams.get('search') ?? '').slice(0, 100),
		after: afterSchema.parse(searchParams.get('after'))
	};
	return desk.read(async (tx, firm) => {
		const people = await readPeopleList(tx, desk.actor, filter);
		const last = people.length === PEOPLE_ROWS ? people.at(-1)! : null;
		return {
			filter: { nowhere: filter.nowhere, search: filter.search },
			people: people.map((person) => ({ ...person, phoneWords: person.phone && phoneInWords(person.phone, firm.country) })),
			next: last && `${last.name.toLowerCase()}~${last.id}`,
			mayChange: may(desk.actor.role, 'invite')
		};
	});
};

const contactId = (form: FormData) => idParam(String(form.get('contactId') ?? ''));

export const actions = {
	add: (event) => deskForm(event, (tx, desk, form, firm) => addPerson(tx, desk.actor, personSchema(firm.country).parse(Object.fromEntries(form)))),
	change: (event) =>
		deskForm(event, (tx, desk, form, firm) =>
			changePerson(tx, desk.actor, contactId(form), personSchema(firm.country).parse(Object.fromEntries(form)))
		),
	join: (event) =>
		deskForm(event, (tx, desk, form) =>
			joinClient(tx, desk.actor, { contactId: contactId(form), clientId: idParam(String(form.get('clientId') ?? '')) })
		)
};
