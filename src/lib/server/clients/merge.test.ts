import { randomUUID } from 'node:crypto';
import { beforeEach, describe, expect, test } from 'vitest';
import { addToInstant } from '$lib/core/calendar/firm-calendar';
import { mergeChoices, MERGE_UNDO_DAYS } from '$lib/core/clients/merge';
import { beginSession, resumeSession } from '../people/sessions';
import { answerItem } from '../item-kinds/kinds/question';
import { writeRemark } from '../items/remarks';
import { sendRequest } from '../requests/send-request';
import { readAccounts, writeAccount } from '../statements/accounts';
import { itemsOf, makeClient, makeFirm, questionLine, requestTo, sendPlanned, type TestClient } from '../testing/test-firm';
import { context, firm, useFirm } from '../testing/use-firm';
import { addContact } from './contacts';
import { readFacts, sayFact } from './client-facts';
import { readNotes, writeNote } from '../talk/notes';
import { findClients } from './find-clients';
import { movedColumns, OF_CLIENT, OF_CONTACT } from './owned-tables';
import { mergeClients, mergeContacts } from './merge';
import { previewMerge } from './preview-merge';
import { readLikelyDoubles, readLikelySamePeople } from './likely-doubles';
import { readMerges, undoMerge } from './undo-merge';
import { readClient, readHistory } from './read-clients';

useFirm({ at: '2026-05-04T13:00:00Z', withClient: false });
let keep: TestClient;
let gone: TestClient;
beforeEach(async () => {
	keep = await makeClient(context, firm, { name: 'Gull & String Kites' });
	gone = await makeClient(context, firm, { name: 'Gull and String Kites Ltd' });
});
const ask = async (client: TestClient, title: string) =>
	(await itemsOf(context, await sendRequest(context, firm.id, firm.odalys(), requestTo(client, [questionLine(title, '2026-05-20')], { title }))))[0]
		.id;
const say = (client: TestClient, name: 'employees' | 'tax_number' | 'software', value: string) =>
	firm.run((tx) => sayFact(tx, firm.odalys(), { clientId: client.id, name, value }));
const facts = async (client: TestClient) =>
	Object.fromEntries((await firm.run((tx) => readFacts(tx, firm.odalys(), client.id))).map((f) => [f.name, f.value]));
const mergeThem = (take: string[] = []) => firm.run((tx) => mergeClients(tx, firm.odalys(), { keepId: keep.id, goneId: gone.id, take }));
/** Everything of a firm that names a client or a contact, to compare before and after. */
async function owned(): Promise<unknown> {
	const out: Record<string, unknown> = {};
	for (const { key, table, column } of [...movedColumns(OF_CLIENT), ...movedColumns(OF_CONTACT)])
		out[key] = (await context.owner.query(`select id, ${column} from ${table} where firm_id = $1 order by id`, [firm.id])).rows;
	out.decisions = (await context.owner.query('select client_id, line_key from list_override where firm_id = $1 order by 1, 2', [firm.id])).rows;
	out.links = (
		await context.owner.query('select client_id, contact_id, role, rank from client_contact where firm_id = $1 order by 1, 2', [firm.id])
	).rows;
	out.clients = (
		await context.owner.query('select id, name, kind, responsible_id, removed_at from client where firm_id = $1 order by id', [firm.id])
	).rows;
	out.contacts = (
		await context.owner.query('select id, name, email, phone, mail_problem, password_hash, removed_at from contact where firm_id = $1 order by id', [
			firm.id
		])
	).rows;
	out.facts = (
		await context.owner.query('select client_id, name, value from fact where firm_id = $1 and replaced_at is null order by 1, 2', [firm.id])
	).rows;
	out.positions = (
		await context.owner.query('select client_id, name, items, open, wait_key from client_summary where firm_id = $1 order by 1', [firm.id])
	).rows;
	return out;
}

test('field by field: what only one has is taken, what differs is chosen, what is alike is not asked', () => {
	expect(
		mergeChoices(
			['name', 'kind', 'employees', 'software'],
			{ name: 'A', kind: 'business', employees: null },
			{ name: 'B', kind: 'business', employees: '3', software: null }
		)
	).toEqual([
		{ field: 'name', kept: 'A', gone: 'B', proposed: 'kept' },
		{ field: 'employees', kept: null, gone: '3', proposed: 'gone' }
	]);
});

describe('two clients', () => {
	test('everything moves, chosen fields are taken, history goes on, the other is seen nowhere', async () => {
		await say(keep, 'employees', '2');
		await say(gone, 'employees', '3');
		await say(gone, 'software', 'Ledgerly');
		const item = await ask(gone, 'from the other');
		await ask(keep, 'own');
		await firm.run((tx) => writeNote(tx, firm.odalys(), { clientId: gone.id, words: 'a note' }));
		const preview = await firm.run((tx) => previewMerge(tx, firm.odalys(), 'client', keep.id, gone.id));
		expect(preview.choices.map((c) => [c.field, c.proposed])).toEqual([
			['name', 'kept'],
			['employees', 'kept'],
			['software', 'gone']
		]);
		expect(preview.moves).toContainEqual({ what: 'requests', count: 1 });

		await mergeThem(['employees', 'software']);
		expect(await facts(keep)).toEqual({ employees: '3', software: 'Ledgerly' });
		expect((await firm.run((tx) => readClient(tx, firm.odalys(), keep.id))).contacts).toHaveLength(2);
		expect(await firm.run((tx) => readNotes(tx, firm.odalys(), keep.id))).toHaveLength(1);
		await expect(firm.run((tx) => readClient(tx, firm.odalys(), gone.id))).rejects.toMatchObject({ code: 'not_found' });
		expect((await firm.run((tx) => findClients(tx, firm.odalys(), 'gull', 5))).map((c) => c.id)).toEqual([keep.id]);
		// the other's person answers what was asked of them, now at the kept client
		await gone.run((tx) => answerItem(tx, gone.mara(), { itemId: item, answer: 'yes' }));
		const verbs = (await firm.run((tx) => readHistory(tx, firm.odalys(), keep.id, null, 50))).map((e) => e.verb);
		expect(verbs.filter((verb) => verb === 'client_added')).toHaveLength(2);
		expect(verbs).toContain('clients_merged');
		const { rows } = await context.owner.query('select items, open, to_look_at from client_summary where firm_id = $1', [firm.id]);
		expect(rows).toEqual([{ items: 2, open: 1, to_look_at: 1 }]);
	});

	test('undone, everything is as it was', async () => {
		await say(keep, 'employees', '2');
		await say(gone, 'employees', '3');
		await ask(gone, 'from the other');
		await sendPlanned(context, firm);
		const before = await owned();
		await mergeThem(['name', 'employees']);
		const [merge] = await firm.run((tx) => readMerges(tx, firm.odalys(), keep.id));
		expect(merge).toMatchObject({ kind: 'client', goneName: 'Gull and String Kites Ltd', by: 'Odalys Fenwick' });
		await firm.run((tx) => undoMerge(tx, firm.odalys(), merge.id));
		expect(await owned()).toEqual(before);
		expect(await firm.run((tx) => readMerges(tx, firm.odalys(), keep.id))).toEqual([]);
		await expect(firm.run((tx) => undoMerge(tx, firm.odalys(), merge.id))).rejects.toMatchObject({ code: 'changed_meanwhile' });
	});

	test('for 30 days, the later of two first; what came after stays with the kept one', async () => {
		const third = await makeClient(context, firm, { name: 'Third' });
		await mergeThem();
		const [first] = await firm.run((tx) => readMerges(tx, firm.odalys(), keep.id));
		const later = await ask(keep, 'after the merge');
		context.clock.set(addToInstant(context.clock.now(), { hours: 1 }));
		await firm.run((tx) => mergeClients(tx, firm.odalys(), { keepId: third.id, goneId: keep.id, take: [] }));
		await expect(firm.run((tx) => undoMerge(tx, firm.odalys(), first.id))).rejects.toMatchObject({
			message: expect.stringContaining('Undo that first')
		});
		const [second] = await firm.run((tx) => readMerges(tx, firm.odalys(), third.id));
		await firm.run((tx) => undoMerge(tx, firm.odalys(), second.id));
		await firm.run((tx) => undoMerge(tx, firm.odalys(), first.id));
		expect((await context.owner.query('select client_id from item where id = $1', [later])).rows[0].client_id).toBe(keep.id);

		await mergeThem();
		const [again] = await firm.run((tx) => readMerges(tx, firm.odalys(), keep.id));
		context.clock.set(addToInstant(again.at, { hours: MERGE_UNDO_DAYS * 24 }));
		expect(await firm.run((tx) => readMerges(tx, firm.odalys(), keep.id))).toEqual([]);
		await expect(firm.run((tx) => undoMerge(tx, firm.odalys(), again.id))).rejects.toMatchObject({ code: 'changed_meanwhile' });
	});

	test.each(['keep', 'gone'])('while one of them is only for some of the firm, nothing is merged (the %s one)', async (which) => {
		await context.owner.query('update client set restricted = true where id = $1', [which === 'keep' ? keep.id : gone.id]);
		await expect(mergeThem()).rejects.toMatchObject({ code: 'invalid', message: expect.stringContaining('only for some of the firm') });
		const { rows } = await context.owner.query('select count(*)::int n from client where firm_id = $1 and removed_at is null', [firm.id]);
		expect(rows[0].n).toBe(2);
	});
	test('with itself, another firm’s, or without the right: refused', async () => {
		await expect(firm.run((tx) => mergeClients(tx, firm.odalys(), { keepId: keep.id, goneId: keep.id, take: [] }))).rejects.toMatchObject({
			code: 'invalid'
		});
		const other = await makeFirm(context);
		const theirs = await makeClient(context, other);
		await expect(firm.run((tx) => mergeClients(tx, firm.odalys(), { keepId: keep.id, goneId: theirs.id, take: [] }))).rejects.toMatchObject({
			code: 'not_found'
		});
		await expect(firm.run((tx) => mergeClients(tx, firm.filing, { keepId: keep.id, goneId: gone.id, take: [] }))).rejects.toMatchObject({
			code: 'not_allowed'
		});
		await mergeThem();
		const [merge] = await firm.run((tx) => readMerges(tx, firm.odalys(), keep.id));
		await expect(other.run((tx) => undoMerge(tx, other.odalys(), merge.id))).rejects.toMatchObject({ code: 'not_found' });
	});
});

test('accounts, and what was written about what was asked, are found at the client that is kept', async () => {
	const item = await ask(gone, 'from the other');
	const account = await firm.run((tx) =>
		writeAccount(
			tx,
			firm.odalys(),
			gone.id,
			{ kind: 'bank', institution: 'Tideline Savings', lastFour: '4471', currency: 'CAD', closingDay: 31, openedOn: null, closedOn: null },
			null
		)
	);
	await firm.run((tx) => writeRemark(tx, firm.odalys(), { itemId: item, words: 'Which year is this?', pinned: null }));
	await mergeThem();
	expect((await firm.run((tx) => readAccounts(tx, firm.odalys(), keep.id))).map(({ id }) => id)).toEqual([account]);
	const { rows } = await context.owner.query('select client_id, words from remark where item_id = $1', [item]);
	expect(rows).toEqual([{ client_id: keep.id, words: 'Which year is this?' }]);
});

test('every column that names a client or a person is thought of', async () => {
	const columnsTo = async (table: string) =>
		(
			await context.owner.query(
				`select c.conrelid::regclass || '.' || a.attname as name from pg_constraint c join pg_attribute a on a.attrelid = c.conrelid and a.attnum = any (c.conkey)
				where c.contype = 'f' and c.confrelid = $1::regclass`,
				[table]
			)
		).rows
			.map((row) => row.name as string)
			.toSorted();
	expect(await columnsTo('client')).toEqual(Object.keys(OF_CLIENT).toSorted());
	expect(await columnsTo('contact')).toEqual(Object.keys(OF_CONTACT).toSorted());
});

test('what was decided for a client about a list goes along, but never over what was decided for the one that is kept', async () => {
	const list = randomUUID();
	await context.owner.query(
		`insert into request_list (id, firm_id, name, title, lines, made_by_id, made_at, changed_by_id, changed_at)
		select $1, $2, 'Monthly', 'Monthly', '[]', id, now(), id, now() from staff where firm_id = $2 limit 1`,
		[list, firm.id]
	);
	const decide = (client: TestClient, line: string, decision: string) =>
		context.owner.query(
			`insert into list_override (firm_id, client_id, list_id, line_key, decision, decided_by_id, decided_at)
			select $1, $2, $3, $4, $5, id, now() from staff where firm_id = $1 limit 1`,
			[firm.id, client.id, list, line, decision]
		);
	await decide(keep, 'card', 'out');
	await decide(gone, 'card', 'in');
	await decide(gone, 'loan', 'out');
	const before = await owned();
	const decisions = async () =>
		(await context.owner.query('select line_key, decision from list_override where client_id = $1 order by 1', [keep.id])).rows;
	await mergeThem();
	expect(await decisions()).toEqual([
		{ line_key: 'card', decision: 'out' },
		{ line_key: 'loan', decision: 'out' }
	]);
	const [merge] = await firm.run((tx) => readMerges(tx, firm.odalys(), keep.id));
	await firm.run((tx) => undoMerge(tx, firm.odalys(), merge.id));
	expect(await owned()).toEqual(before);
});

describe('two contacts', () => {
	const mergePeople = (take: string[] = []) =>
		firm.run((tx) => mergeContacts(tx, firm.odalys(), { keepId: keep.contactId, goneId: gone.contactId, take }));

	test('become one person with one sign-in for both clients; the other’s sessions end; undone, all is as before', async () => {
		await ask(gone, 'from the other');
		await sendPlanned(context, firm);
		const { token } = await gone.run((tx) => beginSession(tx, gone.mara(), { kind: 'contact', id: gone.contactId }));
		const before = await owned();
		await mergePeople();
		expect(await resumeSession(context.db, token, 'contact', context.clock.now())).toBeNull();
		const person = (await firm.run((tx) => readClient(tx, firm.odalys(), gone.id))).contacts;
		expect(person).toMatchObject([{ id: keep.contactId, email: keep.email, otherClients: ['Gull & String Kites'] }]);
		const [merge] = await firm.run((tx) => readMerges(tx, firm.odalys(), gone.id));
		await firm.run((tx) => undoMerge(tx, firm.odalys(), merge.id));
		expect(await owned()).toEqual(before);
	});

	test('what one of them asked for is the other’s; undone, theirs again', async () => {
		const item = await ask(gone, 'from the other');
		await context.owner.query('update request set raised_by_id = contact_id where id = (select request_id from item where id = $1)', [item]);
		const before = await owned();
		await mergePeople();
		const { rows } = await context.owner.query('select contact_id, raised_by_id from request where client_id = $1', [gone.id]);
		expect(rows).toEqual([{ contact_id: keep.contactId, raised_by_id: keep.contactId }]);
		const [merge] = await firm.run((tx) => readMerges(tx, firm.odalys(), gone.id));
		await firm.run((tx) => undoMerge(tx, firm.odalys(), merge.id));
		expect(await owned()).toEqual(before);
	});

	test('the address somebody signs in with is not changed by a merge; without a sign-in the other’s comes along', async () => {
		await expect(mergePeople(['email'])).rejects.toMatchObject({ code: 'invalid' });
		await context.owner.query(`update contact set password_hash = null, email = null, mail_problem = 'no_address' where id = $1`, [keep.contactId]);
		await mergePeople(['email']);
		const { rows } = await context.owner.query('select email, mail_problem, password_hash from contact where id = $1', [keep.contactId]);
		expect(rows).toEqual([{ email: gone.email, mail_problem: null, password_hash: 'x' }]);
		const [merge] = await firm.run((tx) => readMerges(tx, firm.odalys(), keep.id));
		await firm.run((tx) => undoMerge(tx, firm.odalys(), merge.id));
		expect((await context.owner.query('select email, password_hash from contact where id = $1', [keep.contactId])).rows).toEqual([
			{ email: null, password_hash: null }
		]);
	});

	test('both at one client: one link stays', async () => {
		const twin = await firm.run((tx) =>
			addContact(tx, firm.odalys(), { clientId: keep.id, knownId: null, name: 'Mara W', email: null, phone: null, role: 'owner', channels: 'email' })
		);
		await firm.run((tx) => mergeContacts(tx, firm.odalys(), { keepId: keep.contactId, goneId: twin, take: [] }));
		expect((await firm.run((tx) => readClient(tx, firm.odalys(), keep.id))).contacts).toHaveLength(1);
	});
});

test('likely doubles are named with the reason', async () => {
	const taxed = await makeClient(context, firm, { name: 'Something Else' });
	await say(keep, 'tax_number', 'R-1');
	await say(taxed, 'tax_number', 'r-1');
	const shared = await makeClient(context, firm, { name: 'Quite Different', contactId: keep.contactId, email: keep.email });
	const doubles = await firm.run((tx) => readLikelyDoubles(tx, firm.odalys(), keep.id));
	expect(doubles.map((d) => [d.id, d.why])).toEqual([
		[gone.id, 'has a name like it'],
		[shared.id, 'has the same person'],
		[taxed.id, 'has the same tax number']
	]);
	expect(await firm.run((tx) => readLikelySamePeople(tx, firm.odalys(), keep.contactId))).toContainEqual({
		id: gone.contactId,
		name: 'Mara Whitlock',
		email: gone.email,
		why: 'has the same name'
	});
});
