import { randomUUID } from 'node:crypto';
import { beforeEach, describe, expect, test } from 'vitest';
import type { Actor } from '../actor';
import { changeClientRights } from '../clients/client-rights';
import { loadFirm } from '../firms/firm';
import { writeRemark } from '../items/remarks';
import { addMessageText, readTextsFor } from '../library/message-texts';
import { asStaff } from '../platform/db/database';
import { sendRequest } from '../requests/send-request';
import { itemsOf, makeClient, paperLine, requestTo } from '../testing/test-firm';
import { client, context, firm, useFirm } from '../testing/use-firm';
import { findWritten } from './find-written';
import { removeNote, writeNote } from './notes';
import { writeOwnWords, writeWords } from './words';

useFirm();
let item: string;
const find = (...terms: string[]) => firm.run((tx) => findWritten(tx, firm.odalys(), client.id, terms));

describe('finding what was written', () => {
	beforeEach(async () => {
		item = (await itemsOf(context, await sendRequest(context, firm.id, firm.odalys(), requestTo(client, [paperLine('Lease', '2026-05-20')]))))[0].id;
		const talk = { clientId: client.id, contactId: client.contactId };
		await firm.run((tx) => writeRemark(tx, firm.odalys(), { itemId: item, words: 'Is it the Straße by the harbour?', pinned: null }));
		context.clock.set('2026-05-04T13:35:00Z');
		await client.run((tx) => writeOwnWords(tx, client.mara(), { clientId: client.id, words: 'Le relevé vient du port, harbour 100%' }));
		await firm.run((tx) => writeWords(tx, firm.odalys(), { ...talk, words: 'Thank you.', idempotencyKey: randomUUID() }));
		context.clock.set('2026-05-04T13:40:00Z');
		await firm.run((tx) => writeNote(tx, firm.odalys(), { clientId: client.id, words: 'The harbour office calls in May.' }));
	});
	test('in all that was written at a client and noted there, the last first, without case and accents', async () => {
		expect((await find('harbour')).map(({ ours, itemId, contactId, about }) => ({ ours, itemId, contactId, about }))).toEqual([
			{ ours: true, itemId: null, contactId: null, about: null },
			{ ours: false, itemId: null, contactId: client.contactId, about: client.mara().name },
			{ ours: false, itemId: item, contactId: null, about: 'Lease' }
		]);
		expect((await find('releve', 'port')).map(({ by }) => by)).toEqual([client.mara().name]);
		expect(await find('strasse')).toHaveLength(1);
		expect(await find('straße')).toHaveLength(1);
		// signs that stand for others in a pattern are themselves
		expect(await find('100%')).toHaveLength(1);
		expect(await find('t_e')).toEqual([]);
		expect(await find('harbour', 'lease')).toEqual([]);
		expect(await find()).toEqual([]);
	});
	test('not what was deleted, at another client, or by whoever may not see the client', async () => {
		const [{ id }] = await find('harbour', 'office');
		await firm.run((tx) => removeNote(tx, firm.odalys(), { clientId: client.id, noteId: id }));
		expect(await find('harbour', 'office')).toEqual([]);
		const other = await makeClient(context, firm, { name: 'Other' });
		expect(await firm.run((tx) => findWritten(tx, firm.odalys(), other.id, ['harbour']))).toEqual([]);
		await firm.run((tx) => changeClientRights(tx, firm.odalys(), { clientId: client.id, restricted: true, rights: [] }));
		const bram: Actor = { ...firm.filing };
		await expect(asStaff(context.db, bram.id!).inFirm(firm.id, (tx) => findWritten(tx, bram, client.id, ['harbour']))).rejects.toMatchObject({
			code: 'not_found'
		});
		await expect(client.run((tx) => findWritten(tx, client.mara(), client.id, ['harbour']))).rejects.toMatchObject({ code: 'not_allowed' });
	});
});

describe('words of the Library for an answer', () => {
	const to = () => ({ clientId: client.id, contactId: client.contactId });
	const offered = () => firm.run(async (tx) => readTextsFor(tx, firm.odalys(), await loadFirm(tx), 'answer', to()));
	const add = (name: string, body: string, language: 'en' | 'fr') =>
		firm.run((tx) =>
			addMessageText(tx, firm.odalys(), { kind: 'answer', name, folder: '', tags: [], subject: '', body, language, shared: 'all', groupId: null })
		);
	test('come filled in for whoever is written to, those in their language first', async () => {
		await add('Later', 'Dear {contact_name}, we look at {client_name} on {today}. {responsible_name}', 'en');
		await add('Plus tard', 'Le {today}', 'fr');
		const mine = (await offered()).filter(({ folder }) => folder !== 'Ready-made');
		expect(mine).toMatchObject([
			{ name: 'Later', body: `Dear Mara Whitlock, we look at Gull & String Kites on Monday 4 May. ${firm.odalys().name}` },
			{ name: 'Plus tard (français)', body: 'Le lundi 4 mai' }
		]);
		await context.owner.query(`update contact set locale = 'fr' where id = $1`, [client.contactId]);
		expect((await offered()).filter(({ folder }) => folder !== 'Ready-made').map(({ name }) => name)).toEqual(['Plus tard', 'Later (English)']);
		for (const { body } of await offered()) expect(body).not.toContain('{');
	});
	test('of nobody whom whoever asks may not see', async () => {
		const other = await makeClient(context, firm, { name: 'Other' });
		await expect(
			firm.run(async (tx) => readTextsFor(tx, firm.odalys(), await loadFirm(tx), 'answer', { clientId: client.id, contactId: other.contactId }))
		).rejects.toMatchObject({ code: 'not_found' });
	});
});
