import { randomUUID } from 'node:crypto';
import { beforeEach, describe, expect, test } from 'vitest';
import type { Role } from '$lib/core/people/roles';
import type { Actor } from '../actor';
import { changeClientRights } from '../clients/client-rights';
import { loadFirm } from '../firms/firm';
import { asStaff, type Tx } from '../platform/db/database';
import { readDeskHead } from '../rounds/desk-head';
import { readItemLeaf } from '../rounds/item-leaf';
import { readLeaf } from '../rounds/read-leaf';
import { countRounds, readRounds } from '../rounds/read-rounds';
import { sendRequest } from '../requests/send-request';
import { itemsOf, makeClient, paperLine, requestTo, sendPlanned } from '../testing/test-firm';
import { client, context, firm, useFirm } from '../testing/use-firm';
import { markNoteSeen, readColleagues, readItemNotes, readNotes, readTalkNotes, removeNote, writeNote } from './notes';
import { readTalk } from './words';

useFirm();
let item: string;
let imre: Actor;
let rosa: Actor;

async function colleague(name: string, role: Role): Promise<Actor> {
	const id = randomUUID();
	await context.owner.query(`insert into staff (id, firm_id, name, email, role, created_at) values ($1, $2, $3, $4, $5, '2026-01-02T00:00:00Z')`, [
		id,
		firm.id,
		name,
		`${name.split(' ')[0].toLowerCase()}@${id.slice(0, 8)}.example`,
		role
	]);
	return { ...firm.partner, id, name, role };
}
beforeEach(async () => {
	imre = await colleague('Imre Vask', 'bookkeeper');
	rosa = await colleague('Rosa Lund', 'filing');
	item = (await itemsOf(context, await sendRequest(context, firm.id, firm.odalys(), requestTo(client, [paperLine('Lease', '2026-05-20')]))))[0].id;
	await sendPlanned(context, firm);
	context.mailer.sent.length = 0;
});
const as = <T>(actor: Actor, run: (tx: Tx) => Promise<T>) => asStaff(context.db, actor.id!).inFirm(firm.id, run);
const write = (words: string, by = firm.odalys(), more: object = {}) => as(by, (tx) => writeNote(tx, by, { itemId: item, words, ...more }));
const named = async (who: Actor) =>
	(await as(who, async (tx) => readRounds(tx, who, await loadFirm(tx), { due: (d) => d }))).rows.filter(({ section }) => section === 'named');
const counted = (who: Actor) => as(who, async (tx) => (await countRounds(tx, await loadFirm(tx), context.clock.now(), null, who.id)).named);
const head = (who: Actor) => as(who, async (tx) => (await readDeskHead(tx, await loadFirm(tx), context.clock.now(), null, who.id)).rounds.named);
const mails = async () => {
	await sendPlanned(context, firm);
	return context.mailer.sent.map(({ to, subject, text }) => ({ to, subject, text }));
};

describe('a note that only the firm reads', () => {
	test('whoever it names is told by one mail and in their Rounds alone, until they say that they have seen it', async () => {
		await write('The old landlord has it. @Imre, could you call them?');
		const [row] = await named(imre);
		expect(row).toMatchObject({ clientId: client.id, aside: firm.odalys().name, words: '“The old landlord has it. @Imre, could you call them?”' });
		for (const [who, n] of [
			[imre, 1],
			[rosa, 0],
			[firm.odalys(), 0]
		] as const)
			expect([await counted(who), await head(who)]).toEqual([n, n]);
		const [mail, ...others] = await mails();
		expect(others).toEqual([]);
		expect(JSON.stringify(mail.to)).toContain('imre@');
		expect(mail.subject).toBe(`${firm.odalys().name} named you in a note: Lease`);
		expect(mail.text).toContain('could you call them?');
		expect(mail.text).toContain(`/desk/rounds/${row.key}`);
		const id = row.key.replace('named-', '');
		const { leaf } = await as(imre, async (tx) => readLeaf(tx, imre, await loadFirm(tx), 'named', id));
		expect(leaf).toMatchObject({ kind: 'named', note: { about: 'Lease', itemId: item, told: [{ name: 'Imre Vask', seenAt: null }] } });
		// nobody else has it open, or puts it away
		await expect(as(rosa, async (tx) => readLeaf(tx, rosa, await loadFirm(tx), 'named', id))).rejects.toMatchObject({ code: 'not_found' });
		await expect(as(rosa, (tx) => markNoteSeen(tx, rosa, id))).rejects.toMatchObject({ code: 'not_found' });
		await as(imre, (tx) => markNoteSeen(tx, imre, id));
		await expect(as(imre, (tx) => markNoteSeen(tx, imre, id))).rejects.toMatchObject({ code: 'changed_meanwhile' });
		expect([await counted(imre), await head(imre), (await named(imre)).length]).toEqual([0, 0, 0]);
		expect((await firm.run((tx) => readItemNotes(tx, firm.odalys(), item)))[0].told).toEqual([{ name: 'Imre Vask', seenAt: expect.any(String) }]);
	});
	test('two that wait are counted one by one, whatever the head was counted for last', async () => {
		await write('@Imre, one');
		await write('@Imre, two');
		expect(await head(imre)).toBe(2);
		const [row] = await named(imre);
		await as(imre, (tx) => markNoteSeen(tx, imre, row.key.replace('named-', '')));
		expect(await head(imre)).toBe(1);
	});
	test('a note in answer counts as having seen it; seen, or taken away, it sends no mail', async () => {
		await write('@Imre, please look');
		await write('Done.', imre);
		expect(await named(imre)).toEqual([]);
		await write('@Imre, and this');
		const [{ id }] = (await firm.run((tx) => readNotes(tx, firm.odalys(), client.id))).filter(({ words }) => words.endsWith('this'));
		await firm.run((tx) => removeNote(tx, firm.odalys(), { clientId: client.id, noteId: id }));
		expect(await named(imre)).toEqual([]);
		expect(await mails()).toEqual([]);
		const { rows } = await context.owner.query(`select state from message where firm_id = $1 and kind = 'named_in_note'`, [firm.id]);
		expect(rows.map(({ state }) => state)).toEqual(['held_back', 'held_back']);
	});
	test('sent twice it is written once, and tells once', async () => {
		const idempotencyKey = randomUUID();
		for (let i = 0; i < 2; i++) await write('@Imre', firm.odalys(), { idempotencyKey });
		expect(await firm.run((tx) => readItemNotes(tx, firm.odalys(), item))).toHaveLength(1);
		expect(await mails()).toHaveLength(1);
	});
	test('a first name that two have is refused with both names; an address names nobody', async () => {
		await colleague('Imre Stone', 'coordinator');
		await expect(write('@Imre, please')).rejects.toMatchObject({
			code: 'invalid',
			message: 'Several of you are called Imre: write @Imre Stone or @Imre Vask.'
		});
		await write('@Imre Stone, or write to a@imre.example');
		expect(await mails()).toHaveLength(1);
	});
	test('whom the client is closed to cannot be named, is told nothing and reads nothing', async () => {
		await write('@Imre, before it was closed');
		await firm.run((tx) => changeClientRights(tx, firm.odalys(), { clientId: client.id, restricted: true, rights: [] }));
		const partner = firm.odalys();
		await as(partner, (tx) => writeNote(tx, partner, { itemId: item, words: '@Imre, after' }));
		expect((await as(partner, (tx) => readColleagues(tx, partner, client.id))).map(({ name }) => name)).not.toContain('Imre Vask');
		expect([await counted(imre), await head(imre)]).toEqual([0, 0]);
		expect(await named(imre)).toEqual([]);
		expect(await as(imre, (tx) => tx.rows('select 1 from note_told'))).toEqual([]);
		expect((await mails()).filter(({ to }) => JSON.stringify(to).includes('imre'))).toEqual([]);
	});
	test('filing reads what names them and writes none', async () => {
		await write('@Rosa, where is it?');
		const [row] = await named(rosa);
		await expect(write('Here', rosa)).rejects.toMatchObject({ code: 'not_allowed' });
		await as(rosa, (tx) => markNoteSeen(tx, rosa, row.key.replace('named-', '')));
	});
	test('no client reads one, by whatever page or statement; a note leaves no word in the history', async () => {
		const partner = firm.odalys();
		await write('Slow with everybody');
		await as(partner, (tx) => writeNote(tx, partner, { clientId: client.id, contactId: client.contactId, words: 'Rather by telephone' }));
		for (const table of ['client_note', 'note_told'])
			await expect(client.run((tx) => tx.rows(`select 1 from ${table}`))).rejects.toMatchObject({ code: '42501' });
		expect((await as(partner, async (tx) => readItemLeaf(tx, partner, await loadFirm(tx), item))).notes).toHaveLength(1);
		expect(await as(partner, (tx) => readTalkNotes(tx, partner, client.id, client.contactId))).toMatchObject([
			{ words: 'Rather by telephone', mine: true }
		]);
		expect((await as(partner, (tx) => readTalk(tx, partner, { clientId: client.id, contactId: client.contactId }))).words).toEqual([]);
		expect((await as(partner, (tx) => readNotes(tx, partner, client.id))).map(({ about }) => about)).toEqual(['Mara Whitlock', 'Lease']);
		const { rows } = await context.owner.query(`select details::text, item_id from event where firm_id = $1 and verb = 'note_written'`, [firm.id]);
		expect(rows).toEqual([
			{ details: '{}', item_id: null },
			{ details: '{}', item_id: null }
		]);
		const other = await makeClient(context, firm);
		await expect(as(partner, (tx) => writeNote(tx, partner, { clientId: other.id, contactId: client.contactId, words: 'x' }))).rejects.toMatchObject({
			code: 'not_found'
		});
	});
});
