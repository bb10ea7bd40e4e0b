import { randomUUID } from 'node:crypto';
import { afterAll, beforeAll, beforeEach, describe, expect, test } from 'vitest';
import { readRightsForm, type Right } from '$lib/core/clients/client-rights';
import type { Actor } from '../actor';
import { chasePeople } from '../chasing/chase-people';
import { readForecast } from '../chasing/read-forecast';
import { loadFirm } from '../firms/firm';
import { writeGroup } from '../people/groups';
import { asStaff, type Tx } from '../platform/db/database';
import { draftContentSchema } from '$lib/core/requests/request-list';
import { saveDraft } from '../drafts/drafts';
import { changeDrafts, foreseeDraftsChange } from '../requests/many-drafts';
import { draftsActSchema, itemsActSchema } from '$lib/core/requests/many-acts';
import { actOnMany, foreseeMany } from '../requests/act-on-many';
import { acceptItem, noteLooked } from '../requests/judge-item';
import { sendRequest } from '../requests/send-request';
import { readDeskHead } from '../rounds/desk-head';
import { readRounds } from '../rounds/read-rounds';
import {
	itemsOf,
	makeClient,
	makeFirm,
	openTestContext,
	paperLine,
	requestTo,
	sessionOf,
	type TestClient,
	type TestFirm,
	type TestContext
} from '../testing/test-firm';
import { recordEvent } from '../audit/record-event';
import { readMessageTexts } from '../messages/incoming-texts';
import { planMessages } from '../outbox/plan-message';
import { readMessage, readPostroom } from '../messages/read-postroom';
import { chooseLanguage } from '../people/choose-language';
import { beginPortalLook, resumePortalLook } from '../people/look-as';
import { mendAddress } from './add-client';
import { addContact, changeContact, suspendContact } from './contacts';
import { changeClientRights, readClientRights } from './client-rights';
import { sayFact } from './client-facts';
import { writeNote } from '../talk/notes';
import { moveClient } from './client-record';
import { findClients } from './find-clients';
import { findThings } from './find-things';
import { mergeClients } from './merge';
import { joinClient, readPeopleList } from './people-list';
import { readClient } from './read-clients';

let context: TestContext;
let firm: TestFirm;
let client: TestClient;
let open: TestClient;
let imre: Actor;
beforeAll(async () => (context = await openTestContext()));
afterAll(() => context.close());
beforeEach(async () => {
	context.clock.set('2026-05-04T13:30:00Z');
	firm = await makeFirm(context);
	client = await makeClient(context, firm, { name: 'Closed Cove' });
	open = await makeClient(context, firm, { name: 'Open Cove' });
	imre = { ...firm.partner, role: 'bookkeeper' };
	await context.owner.query(`update staff set role = 'bookkeeper' where id = $1`, [imre.id]);
});

const as = <T>(actor: Actor, work: (tx: Tx) => Promise<T>) => asStaff(context.db, actor.id!).inFirm(firm.id, work);
const close = (rights: { id: string; level: Right }[] = [], actor: Actor = firm.odalys()) =>
	as(actor, (tx) => changeClientRights(tx, actor, { clientId: client.id, restricted: true, rights }));
const administrator = async (): Promise<Actor> => {
	await context.owner.query(`update staff set role = 'administrator' where id = $1`, [firm.filing.id]);
	return { ...firm.filing, role: 'administrator' };
};

describe('a client only for some', () => {
	test('does not exist for others: not in lists, Rounds, search, papers, history, nor in the head', async () => {
		const request = await sendRequest(context, firm.id, firm.odalys(), requestTo(client, [paperLine('Secret paper', '2026-05-20')]));
		await context.owner.query(`update item set state = 'handed_in' where request_id = $1`, [request]);
		const rounds = (actor: Actor) => as(actor, async (tx) => (await readRounds(tx, actor, await loadFirm(tx), { due: (d) => d })).rows.length);
		const head = (actor: Actor) => as(actor, async (tx) => (await readDeskHead(tx, await loadFirm(tx), context.clock.now(), null)).rounds.handed_in);
		expect([await rounds(imre), await head(imre)]).toEqual([1, 1]);
		await close();
		await expect(as(imre, (tx) => readClient(tx, imre, client.id))).rejects.toMatchObject({ code: 'not_found' });
		expect([await rounds(imre), await head(imre)]).toEqual([0, 0]);
		expect([await rounds(firm.odalys()), await head(firm.odalys())]).toEqual([1, 1]);
		const things = async (actor: Actor) => (await as(actor, (tx) => findThings(tx, actor, 'secret', 5))).map((found) => found.title);
		expect([await things(imre), await things(firm.odalys())]).toEqual([[], ['Secret paper']]);
		expect((await as(imre, (tx) => findClients(tx, imre, 'cove', 10))).map((found) => found.name)).toEqual(['Open Cove']);
		for (const table of [
			'client',
			'client_summary',
			'client_contact',
			'item',
			'request',
			'fact',
			'engagement',
			'client_note',
			'invitation',
			'event',
			'message'
		])
			expect(
				(await as(imre, (tx) => tx.rows(`select 1 from ${table} where ${table === 'client' ? 'id' : 'client_id'} = $1`, [client.id]))).length,
				table
			).toBe(0);
	});
	test('is there for who looks after it, administrators, and those who were given a right, by themselves or through a group', async () => {
		await close();
		const sees = async (actor: Actor) => (await as(actor, (tx) => tx.rows('select 1 from client where id = $1', [client.id]))).length === 1;
		expect([await sees(firm.odalys()), await sees(imre), await sees(await administrator())]).toEqual([true, false, true]);
		await close([{ id: imre.id!, level: 'see' }]);
		expect(await sees(imre)).toBe(true);
		const group = await firm.run(async (tx) =>
			writeGroup(tx, { ...firm.filing, role: 'administrator' }, null, { name: 'Year end', members: [imre.id!] })
		);
		await close([{ id: group, level: 'work' }]);
		expect(await sees(imre)).toBe(true);
		expect(await as(imre, (tx) => readClientRights(tx, imre, client.id))).toEqual({
			restricted: true,
			given: { [group]: 'work' },
			words: ['Year end']
		});
		await as(firm.odalys(), (tx) => changeClientRights(tx, firm.odalys(), { clientId: client.id, restricted: false, rights: [] }));
		expect(await sees(imre)).toBe(true);
	});
	test('see: many at once are told before what may not be done, and the others are done', async () => {
		const items = [];
		for (const of of [client, open])
			items.push(...(await itemsOf(context, await sendRequest(context, firm.id, firm.odalys(), requestTo(of, [paperLine('Paper', '2026-05-20')])))));
		await close([{ id: imre.id!, level: 'see' }]);
		const input = itemsActSchema.parse({ act: 'waive', items: items.map(({ id, version }) => ({ id, version })) });
		const db = asStaff(context.db, imre.id!);
		const seen = await foreseeMany(db, firm.id, imre, input);
		expect(seen.stays).toEqual([{ title: 'Paper', clientName: 'Closed Cove', problem: expect.stringContaining('You may look at this client') }]);
		expect(seen.words[0]).toBe('One line of one client is not asked for any more.');
		expect((await actOnMany(db, firm.id, imre, input)).map((one) => [one.clientName, one.problem === null])).toEqual([
			['Closed Cove', false],
			['Open Cove', true]
		]);
		await close();
		expect((await foreseeMany(db, firm.id, imre, input)).stays[0]).toMatchObject({ clientName: '', title: 'something that is not there any more' });
	});
	test('see: of many drafts those of other clients are changed, and it is told before', async () => {
		const drafts = [];
		for (const of of [client, open]) {
			const content = draftContentSchema.parse({ contactId: of.contactId, title: 'Papers' });
			const id = randomUUID();
			drafts.push({ id, version: await firm.run((tx) => saveDraft(tx, firm.odalys(), { id, version: null, clientId: of.id, list: null, content })) });
		}
		await close([{ id: imre.id!, level: 'see' }]);
		const input = { ...draftsActSchema.parse({ act: 'plan', items: drafts, plan: 'none' }), act: 'plan' as const };
		const seen = await foreseeDraftsChange(asStaff(context.db, imre.id!), firm.id, imre, input);
		expect(seen.stays).toEqual([{ title: 'Papers', clientName: 'Closed Cove', problem: expect.stringContaining('You may look at this client') }]);
		expect((await as(imre, (tx) => changeDrafts(tx, imre, input))).map((one) => [one.clientName, one.problem === null])).toEqual([
			['Closed Cove', false],
			['Open Cove', true]
		]);
	});
	test('see: looks, changes nothing, by whatever use case; work: as the role allows; administer: also locks', async () => {
		const request = await sendRequest(context, firm.id, firm.odalys(), requestTo(client, [paperLine('Paper', '2026-05-20')]));
		await context.owner.query(`update item set state = 'handed_in' where request_id = $1`, [request]);
		const [item] = await itemsOf(context, request);
		const say = (clientId = client.id) =>
			as(imre, (tx) => sayFact(tx, imre, { clientId, name: 'employees', value: String(Math.random()).slice(2, 6) }));
		const accept = () => as(imre, (tx) => acceptItem(tx, imre, { itemId: item.id, version: item.version }));
		const note = () => as(imre, (tx) => writeNote(tx, imre, { clientId: client.id, words: 'x' }));
		const ask = () =>
			sendRequest({ ...context, db: asStaff(context.db, imre.id!) }, firm.id, imre, requestTo(client, [paperLine('Another', '2026-05-20')]));
		const coordinator = { ...imre, role: 'coordinator' as const };
		const lock = () => as(imre, (tx) => moveClient(tx, coordinator, { clientId: client.id, move: 'lock', reason: 'x' }));
		await close([{ id: imre.id!, level: 'see' }]);
		for (const change of [say, accept, note, ask, lock]) await expect(change()).rejects.toMatchObject({ code: 'not_allowed' });
		expect((await itemsOf(context, request))[0].state).toBe('handed_in');
		await say(open.id);
		await close([{ id: imre.id!, level: 'work' }]);
		for (const change of [say, accept, note, ask]) await change();
		await expect(lock()).rejects.toMatchObject({ code: 'not_allowed' });
		await expect(close([], { ...coordinator })).rejects.toMatchObject({ code: 'not_allowed' });
		await close([{ id: imre.id!, level: 'administer' }]);
		await lock();
	});
	test('see: makes and overwrites no draft; looking leaves no trace that the client would notice', async () => {
		const content = draftContentSchema.parse({ contactId: client.contactId, title: 'Papers' });
		const draft = { id: randomUUID(), version: null as number | null, clientId: client.id, list: null, content };
		const save = (who: Actor, more = {}) => as(who, (tx) => saveDraft(tx, who, { ...draft, ...more }));
		const version = await save(firm.odalys());
		const request = await sendRequest(context, firm.id, firm.odalys(), requestTo(client, [paperLine('Paper', '2026-05-20')]));
		const [handed] = await itemsOf(context, request);
		await context.owner.query(`update item set state = 'handed_in' where id = $1`, [handed.id]);
		await close([{ id: imre.id!, level: 'see' }]);
		for (const change of [() => save(imre, { id: randomUUID() }), () => save(imre, { version })])
			await expect(change()).rejects.toMatchObject({ code: 'not_allowed' });
		await as(imre, (tx) => noteLooked(tx, imre, handed.id));
		const looked = async () => (await context.owner.query('select looked_at is not null looked from item where id = $1', [handed.id])).rows[0].looked;
		expect(await looked()).toBe(false);
		await as(firm.odalys(), (tx) => noteLooked(tx, firm.odalys(), handed.id));
		expect(await looked()).toBe(true);
		await close([{ id: imre.id!, level: 'work' }]);
		await save(imre, { version });
		await save(imre);
		const { rows } = await context.owner.query(`select verb from event where client_id = $1 and verb like 'draft%' order by id`, [client.id]);
		expect(rows.map((row) => row.verb)).toEqual(['draft_begun', 'draft_gone_on_with']);
	});
	test('see: whatever belongs to the client, no row of it is added, changed or removed', async () => {
		await sendRequest(context, firm.id, firm.odalys(), requestTo(client, [paperLine('Paper', '2026-05-20')]));
		await context.owner.query(
			`insert into account (id, firm_id, client_id, kind, institution, currency, closing_day, noted_by_id, noted_at) values ($1, $2, $3, 'bank', 'Bank', 'CAD', 1, $4, now())`,
			[randomUUID(), firm.id, client.id, firm.coordinator.id]
		);
		await close([{ id: imre.id!, level: 'see' }]);
		const { rows: tables } = await context.owner.query<{ name: string }>(
			`select c.relname as name from pg_class c join pg_attribute a on a.attrelid = c.oid and a.attname = 'client_id'
			where c.relkind = 'r' and c.relnamespace = 'public'::regnamespace order by 1`
		);
		// what is written by looking or chosen for oneself, who may do what, the history itself, and mail, which is written about people
		const apart = ['client_import_trace', 'client_look', 'client_right', 'event', 'message', 'staff_told_client'];
		for (const { name } of tables.filter((table) => !apart.includes(table.name))) {
			const { rows } = await context.owner.query(`select policyname from pg_policies where tablename = $1 and policyname like 'may_work%'`, [name]);
			expect(rows, name).toHaveLength(2);
			const has = (await context.owner.query(`select 1 from ${name} where client_id = $1`, [client.id])).rowCount! > 0;
			if (!has) continue;
			for (const change of ['update', 'delete'] as const)
				await expect(
					as(imre, (tx) =>
						tx.rows(change === 'update' ? `update ${name} set firm_id = firm_id where client_id = $1` : `delete from ${name} where client_id = $1`, [
							client.id
						])
					),
					`${change} ${name}`
				).rejects.toThrow();
		}
	});
	test('nobody shuts themselves out, and what is no person or group of the firm is no right', async () => {
		await context.owner.query(`update client set responsible_id = $2 where id = $1`, [client.id, imre.id]);
		await expect(close([])).rejects.toMatchObject({ code: 'invalid' });
		expect((await as(firm.odalys(), (tx) => readClientRights(tx, firm.odalys(), client.id))).restricted).toBe(false);
		const other = await makeFirm(context);
		await close([
			{ id: firm.coordinator.id!, level: 'administer' },
			{ id: other.partner.id!, level: 'see' },
			{ id: randomUUID(), level: 'see' }
		]);
		expect((await as(firm.odalys(), (tx) => readClientRights(tx, firm.odalys(), client.id))).given).toEqual({ [firm.coordinator.id!]: 'administer' });
	});
	test('its people are not taken for people without a client, unless they belong elsewhere too', async () => {
		await close();
		const people = (nowhere: boolean) => as(imre, (tx) => readPeopleList(tx, imre, { nowhere, search: '', after: null }));
		expect((await people(false)).map((person) => person.id)).toEqual([open.contactId]);
		expect(await people(true)).toEqual([]);
		const coordinator = { ...imre, role: 'coordinator' as const };
		const join = () => as(imre, (tx) => joinClient(tx, coordinator, { contactId: client.contactId, clientId: open.id }));
		await expect(join()).rejects.toMatchObject({ code: 'not_found' });
		await as(firm.odalys(), (tx) => joinClient(tx, firm.odalys(), { contactId: client.contactId, clientId: open.id }));
		expect((await people(false)).map((person) => person.clients.map((c) => c.name))).toEqual([['Open Cove'], ['Open Cove']]);
	});
	describe('is closed through its people too', () => {
		let other: Actor;
		/** Mara belongs to both clients from now on. */
		const belongsToBoth = () => as(firm.odalys(), (tx) => joinClient(tx, firm.odalys(), { contactId: client.contactId, clientId: open.id }));
		const change = (who: Actor, more: object) =>
			as(who, (tx) =>
				changeContact(tx, who, {
					clientId: open.id,
					contactId: client.contactId,
					name: 'Mara Whitlock',
					email: client.email,
					phone: null,
					role: null,
					channels: 'email',
					locale: 'en',
					...more
				})
			);
		beforeEach(async () => {
			other = { ...imre, role: 'coordinator' };
			await close();
		});
		const write = () =>
			firm.run((tx) =>
				planMessages(tx, firm.odalys(), [
					{ kind: 'password_reset', idempotencyKey: randomUUID(), to: { contactId: client.contactId, address: client.email }, content: {} }
				])
			);
		const seenBy = (who: Actor) =>
			as(who, async (tx) => ({
				messages: (await readPostroom(tx, who, {}, 50)).length,
				texts: (await readMessageTexts(tx, 50)).length,
				events: (await tx.rows('select 1 from event where contact_id = $1', [client.contactId])).length
			}));

		test('a person of closed clients only does not exist: no look, no message, no text, no id, not even by their address', async () => {
			await context.owner.query(`update contact set phone = '+19025550188' where id = $1`, [client.contactId]);
			await context.owner.query(
				`insert into incoming_text (id, firm_id, gateway_id, contact_id, words, came_at) values ($1, $2, 'one', $3, 'Private.', now())`,
				[randomUUID(), firm.id, client.contactId]
			);
			await firm.run((tx) => recordEvent(tx, client.mara(), { verb: 'signed_in', contactId: client.contactId }));
			await write();
			expect(await seenBy(other)).toEqual({ messages: 0, texts: 0, events: 0 });
			expect(await seenBy(firm.odalys())).toEqual({ messages: 1, texts: 1, events: 1 });
			const { rows } = await context.owner.query('select id from message where contact_id = $1', [client.contactId]);
			await expect(as(other, (tx) => readMessage(tx, other, rows[0].id))).rejects.toMatchObject({ code: 'not_found' });
			await expect(as(other, (tx) => beginPortalLook(tx, other, client.contactId, randomUUID()))).rejects.toMatchObject({ code: 'not_found' });
			const refused = await as(other, (tx) =>
				addContact(tx, other, {
					clientId: open.id,
					knownId: null,
					name: 'M',
					email: client.email,
					phone: null,
					role: null,
					channels: 'email',
					locale: 'en'
				})
			).catch((error: unknown) => error);
			expect(refused).toMatchObject({ code: 'invalid' });
			expect(JSON.stringify(refused)).not.toContain(client.contactId);
			expect(String(refused)).toContain('somebody you may not see');
			await expect(as(other, (tx) => mendAddress(tx, other, open.contactId, client.email))).rejects.toThrow('somebody you may not see');
		});
		test('who belongs elsewhere too is seen there, and what is their own is not changed: nobody signs in in their place', async () => {
			await belongsToBoth();
			for (const more of [{ email: 'other@elsewhere.example' }, { name: 'Somebody Else' }, { phone: '+19025550188' }, { locale: 'fr' }])
				await expect(change(other, more), JSON.stringify(more)).rejects.toMatchObject({ code: 'not_allowed' });
			const suspend = () => as(other, (tx) => suspendContact(tx, other, { clientId: open.id, contactId: client.contactId, suspend: true }));
			await expect(suspend()).rejects.toMatchObject({ code: 'not_allowed' });
			await change(other, { role: 'keeps the papers' });
			await sendRequest({ ...context, db: asStaff(context.db, other.id!) }, firm.id, other, {
				...requestTo(open, [paperLine('Lease', '2026-05-20')]),
				contactId: client.contactId
			});
			// whoever may work on both changes it, and it stands in the history of both
			await change(firm.odalys(), { email: 'mara@elsewhere.example' });
			const { rows } = await context.owner.query(
				`select c.name from event e join client c on c.id = e.client_id where verb = 'contact_address_changed' order by 1`
			);
			expect(rows.map((row) => row.name)).toEqual(['Closed Cove', 'Open Cove']);
		});
		test('a message over several clients is shown to whoever may see all that it names', async () => {
			await belongsToBoth();
			for (const of of [client, open])
				await sendRequest(context, firm.id, firm.odalys(), {
					...requestTo(of, [paperLine('Paper', '2026-05-06')], { tellNow: true }),
					contactId: client.contactId
				});
			const [next] = await firm.run(async (tx) => readForecast(tx, firm.odalys(), await loadFirm(tx), [client.contactId], 30));
			context.clock.set(next.at);
			expect(await chasePeople(context.db, firm.id, context.clock.now())).toBe(1);
			const kinds = (who: Actor) => as(who, async (tx) => (await readPostroom(tx, who, {}, 50)).map((row) => row.kind).toSorted());
			expect(await kinds(firm.odalys())).toEqual(['chase', 'request', 'request']);
			expect(await kinds(other)).toEqual(['request']);
		});
		test('looking at the portal as a person of both shows what the looker may see', async () => {
			await belongsToBoth();
			const names = async (who: Actor) => {
				const session = await sessionOf(context, firm, who);
				const token = await as(who, (tx) => beginPortalLook(tx, who, client.contactId, session));
				const look = await resumePortalLook(context.db, token, who.now);
				return context.db.inFirm(
					firm.id,
					async (tx) => (await tx.rows<{ name: string }>('select name from client order by 1')).map((row) => row.name),
					{ contactId: look!.personId, staffId: look!.lookerId! },
					'read only'
				);
			};
			expect(await names(other)).toEqual(['Open Cove']);
			expect(await names(firm.odalys())).toEqual(['Closed Cove', 'Open Cove']);
			expect(await client.run((tx) => tx.rows('select name from client order by 1'))).toHaveLength(2);
			// they themselves change what is theirs
			expect(await client.run((tx) => chooseLanguage(tx, client.mara(), 'fr'))).toBeUndefined();
		});
	});
	test('the database tells a client nothing of how people of the firm sign in', async () => {
		await expect(client.run((tx) => tx.rows('select password_hash from staff'))).rejects.toMatchObject({ code: '42501' });
		expect((await client.run((tx) => tx.rows('select name from staff'))).length).toBeGreaterThan(0);
	});
	test('does not come open by being merged', async () => {
		await close();
		const merge = () => as(firm.odalys(), (tx) => mergeClients(tx, firm.odalys(), { keepId: open.id, goneId: client.id, take: [] }));
		await expect(merge()).rejects.toMatchObject({ code: 'invalid' });
		await as(firm.odalys(), (tx) => changeClientRights(tx, firm.odalys(), { clientId: client.id, restricted: false, rights: [] }));
		await merge();
	});
	test('reminders go on, and the client notices nothing', async () => {
		await sendRequest(context, firm.id, firm.odalys(), requestTo(client, [paperLine('Paper', '2026-05-06')]));
		await close();
		const [next] = await firm.run(async (tx) => readForecast(tx, firm.odalys(), await loadFirm(tx), [client.contactId], 30));
		context.clock.set(next.at);
		expect(await chasePeople(context.db, firm.id, context.clock.now())).toBe(1);
		expect((await client.run((tx) => tx.rows('select 1 from item'))).length).toBe(1);
	});
	test('the form', () => {
		const id = randomUUID();
		expect(
			readRightsForm([
				['open', 'some'],
				[`right-${id}`, 'work'],
				['right-x', 'see'],
				[`right-${randomUUID()}`, ''],
				[`right-${randomUUID()}`, 'own']
			])
		).toEqual([{ id, level: 'work' }]);
	});
});
