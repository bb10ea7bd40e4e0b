import { randomUUID } from 'node:crypto';
import { Readable } from 'node:stream';
import { afterAll, beforeAll, beforeEach, expect, test } from 'vitest';
import { draftContentSchema } from '$lib/core/requests/request-list';
import { chasePeople } from './chasing/chase-people';
import { moveClient } from './clients/client-record';
import { putInvitationAside } from './invitations/invite';
import { removePaper, takeInPaper } from './papers/papers';
import { readDraft, saveDraft } from './drafts/drafts';
import { changeItemPerson } from './requests/judge-item';
import { sendRequest } from './requests/send-request';
import { readRounds } from './rounds/read-rounds';
import { loadFirm } from './firms/firm';
import {
	itemsOf,
	makeClient,
	makeFirm,
	openTestContext,
	paperLine,
	requestTo,
	sendPlanned,
	type TestClient,
	type TestFirm,
	type TestContext
} from './testing/test-firm';

/** Ids that exist, of the same firm, and are not meant: another item's paper, another client's person, another client's draft. */
let context: TestContext;
let firm: TestFirm;
let client: TestClient;
let sibling: TestClient;
beforeAll(async () => {
	context = await openTestContext();
});
afterAll(() => context.close());
beforeEach(async () => {
	context.clock.set('2026-05-04T13:00:00Z');
	firm = await makeFirm(context);
	client = await makeClient(context, firm, { name: 'One' });
	sibling = await makeClient(context, firm, { name: 'Another' });
});
const ask = async (of: TestClient, ...titles: string[]) =>
	itemsOf(
		context,
		await sendRequest(
			context,
			firm.id,
			firm.odalys(),
			requestTo(
				of,
				titles.map((title) => paperLine(title, '2026-05-20'))
			)
		)
	);
const one = async <Row>(sql: string, values: unknown[]) => (await context.owner.query(sql, values)).rows[0] as Row;

test('a paper is taken out of the item it is in, and of no other', async () => {
	const [mine, other] = await ask(client, 'Lease', 'Insurance');
	const { id } = await takeInPaper(context, firm.id, client.mara(), {
		itemId: other.id,
		name: 'a.pdf',
		content: Readable.from([Buffer.from('%PDF-1.4\n')])
	});
	await client.run((tx) => removePaper(tx, client.mara(), { itemId: mine.id, paperId: id }));
	expect(await one('select removed_at from paper where id = $1', [id])).toEqual({ removed_at: null });
	await client.run((tx) => removePaper(tx, client.mara(), { itemId: other.id, paperId: id }));
	expect(await one('select removed_at is not null gone from paper where id = $1', [id])).toEqual({ gone: true });
});

test('an item is asked of people of its own client only', async () => {
	const [{ id, version }] = await ask(client, 'Lease');
	await expect(firm.run((tx) => changeItemPerson(tx, firm.odalys(), { itemId: id, version, contactId: sibling.contactId }))).rejects.toMatchObject({
		code: 'not_found'
	});
	expect(await one('select contact_id from item where id = $1', [id])).toEqual({ contact_id: client.contactId });
});

test('a draft is saved for the client it was begun for', async () => {
	const id = randomUUID();
	const content = (title: string) => draftContentSchema.parse({ title });
	const save = (of: TestClient, version: number | null, title: string) =>
		firm.run((tx) => saveDraft(tx, firm.odalys(), { id, version, clientId: of.id, list: null, content: content(title) }));
	const version = await save(client, null, 'Ours');
	await expect(save(sibling, version, 'Theirs')).rejects.toMatchObject({ code: expect.any(String) });
	expect(await firm.run((tx) => readDraft(tx, firm.odalys(), id))).toMatchObject({ clientId: client.id, title: 'Ours' });
});

test('an invitation that was put aside does not stand in Rounds, others do', async () => {
	const [aside, waiting] = [await makeClient(context, firm, { access: false }), await makeClient(context, firm, { access: false })];
	for (const of of [aside, waiting])
		await sendRequest(context, firm.id, firm.odalys(), requestTo(of, [paperLine('Lease', '2026-06-20')], { withInvitation: true }));
	context.clock.set('2026-05-12T13:00:00Z');
	const { id } = await one<{ id: string }>('select id from invitation where contact_id = $1', [aside.contactId]);
	await firm.run((tx) => putInvitationAside(tx, firm.odalys(), id));
	const { rows } = await firm.run(async (tx) => readRounds(tx, firm.odalys(), await loadFirm(tx), { due: (day) => day }));
	const clients = rows.filter((row) => row.section === 'not_taken_up').map((row) => row.clientId);
	expect(clients).toContain(waiting.id);
	expect(clients).not.toContain(aside.id);
});

test('nobody is reminded of a locked client, nor on the day on which they were told of something', async () => {
	await ask(client, 'Lease');
	await ask(sibling, 'Lease');
	const told = await makeClient(context, firm, { name: 'Told today' });
	await ask(told, 'Lease');
	await sendPlanned(context, firm);
	await firm.run((tx) => moveClient(tx, firm.partner, { clientId: client.id, move: 'lock', reason: 'unpaid' }));
	// the day after the due date, when every plan reminds
	context.clock.set('2026-05-21T13:00:00Z');
	await context.owner.query(`update contact set last_told_on = '2026-05-21' where id = $1`, [told.contactId]);
	const chased = (of: TestClient) =>
		one<{ n: number }>(`select count(*)::int n from message where kind = 'chase' and contact_id = $1`, [of.contactId]);
	await chasePeople(context.db, firm.id, context.clock.now());
	expect([await chased(sibling), await chased(told), await chased(client)]).toEqual([{ n: 1 }, { n: 0 }, { n: 0 }]);
	for (const day of ['22', '25', '26']) await chasePeople(context.db, firm.id, `2026-05-${day}T13:00:00Z`);
	expect((await chased(told)).n).toBeGreaterThan(0);
	expect(await chased(client)).toEqual({ n: 0 });
});
