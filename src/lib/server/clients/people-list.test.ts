import { expect, test } from 'vitest';
import { personSchema } from '$lib/core/clients/record-forms';
import { inviteMany, summariseInvites } from '../invitations/invite-many';
import { makeClient, makeFirm, sendPlanned } from '../testing/test-firm';
import { context, firm, useFirm } from '../testing/use-firm';
import { addContact, takeContactOff } from './contacts';
import { addPerson, changePerson, joinClient, readPeopleList } from './people-list';
import { countClients, readClient } from './read-clients';
import { loadFirm } from '../firms/firm';

useFirm({ withClient: false });
const typed = (more: Record<string, string> = {}) => personSchema('CA').parse({ name: 'Quill Marsh', email: '', phone: '902 555 0140', ...more });
const add = (more: Record<string, string> = {}) => firm.run((tx) => addPerson(tx, firm.odalys(), typed(more)));
const list = (more: Partial<Parameters<typeof readPeopleList>[2]> = {}) =>
	firm.run((tx) => readPeopleList(tx, firm.odalys(), { nowhere: false, search: '', after: null, ...more }));

test('somebody who belongs to no client is kept, found, changed, and joins one', async () => {
	const client = await makeClient(context, firm);
	const id = await add({ email: 'quill@marsh.example' });
	expect((await list()).map((person) => [person.name, person.clients.map((c) => c.name)])).toEqual([
		['Mara Whitlock', ['Gull & String Kites']],
		['Quill Marsh', []]
	]);
	expect((await list({ nowhere: true })).map((person) => person.id)).toEqual([id]);
	expect((await list({ search: 'MARSH' })).map((person) => person.id)).toEqual([id]);
	expect((await list({ after: { name: 'mara whitlock', id: client.contactId } })).map((person) => person.id)).toEqual([id]);
	await firm.run((tx) => changePerson(tx, firm.odalys(), id, typed({ name: 'Quill Fenn', email: 'quill@fenn.example' })));
	await firm.run((tx) => joinClient(tx, firm.odalys(), { contactId: id, clientId: client.id }));
	await expect(firm.run((tx) => joinClient(tx, firm.odalys(), { contactId: id, clientId: client.id }))).rejects.toMatchObject({ code: 'invalid' });
	expect((await firm.run((tx) => readClient(tx, firm.odalys(), client.id))).contacts.map((c) => [c.name, c.email])).toEqual([
		['Mara Whitlock', client.email],
		['Quill Fenn', 'quill@fenn.example']
	]);
	await expect(firm.run((tx) => changePerson(tx, firm.odalys(), id, typed()))).rejects.toMatchObject({ code: 'changed_meanwhile' });
	await firm.run((tx) => takeContactOff(tx, firm.odalys(), { clientId: client.id, contactId: id }));
	expect((await list({ nowhere: true })).map((person) => person.name)).toEqual(['Quill Fenn']);
});

test('an address stays one person’s; another firm and a role without rights get nowhere', async () => {
	const id = await add({ email: 'quill@marsh.example' });
	await expect(add({ email: 'QUILL@marsh.example' })).rejects.toMatchObject({ code: 'invalid' });
	await expect(firm.run((tx) => addPerson(tx, firm.filing, typed()))).rejects.toMatchObject({ code: 'not_allowed' });
	const other = await makeFirm(context);
	const client = await makeClient(context, other);
	await expect(other.run((tx) => changePerson(tx, other.odalys(), id, typed()))).rejects.toMatchObject({ code: 'not_found' });
	await expect(other.run((tx) => joinClient(tx, other.odalys(), { contactId: id, clientId: client.id }))).rejects.toMatchObject({
		code: 'not_found'
	});
	await expect(firm.run((tx) => joinClient(tx, firm.odalys(), { contactId: id, clientId: client.id }))).rejects.toMatchObject({ code: 'not_found' });
});

test('who has no client is not counted among those whose address is missing', async () => {
	await add();
	expect((await firm.run(async (tx) => countClients(tx, await loadFirm(tx), context.clock.now()))).noAddress).toBe(0);
});

test('an address book with 200 people on one client: read, listed, invited, each once', async () => {
	const client = await makeClient(context, firm, { access: false });
	await firm.run(async (tx) => {
		for (let i = 0; i < 199; i++)
			await addContact(tx, firm.odalys(), {
				clientId: client.id,
				knownId: null,
				name: `Crew ${String(i).padStart(3, '0')}`,
				email: `crew${i}@boats.example`,
				phone: null,
				role: null,
				channels: 'email'
			});
	});
	const { contacts } = await firm.run((tx) => readClient(tx, firm.odalys(), client.id));
	expect(contacts).toHaveLength(200);
	expect(contacts.at(-1)!.name).toBe('Crew 198');
	const [first, rest] = [await list(), await list({ after: { name: 'crew 099', id: contacts.find((c) => c.name === 'Crew 099')!.id } })];
	expect([first.length, rest.length]).toEqual([100, 100]);
	const filter = { mine: false, first: false, again: false, service: null, list: null };
	expect((await firm.run((tx) => summariseInvites(tx, firm.odalys(), filter))).getsIt).toBe(200);
	await firm.run((tx) =>
		inviteMany(
			tx,
			firm.odalys(),
			{ idempotencyKey: '11111111-1111-4111-8111-111111111111', subject: 'S', body: 'Welcome, {contact_first_name}!', filter },
			0
		)
	);
	context.mailer.sent.length = 0;
	await sendPlanned(context, firm);
	expect(new Set(context.mailer.sent.map((mail) => mail.to.address)).size).toBe(200);
});
