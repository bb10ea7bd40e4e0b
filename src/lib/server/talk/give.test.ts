import { beforeEach, describe, expect, test } from 'vitest';
import { changeClientRights } from '../clients/client-rights';
import { loadFirm } from '../firms/firm';
import { markRemarksSeen, readRemarks, writeOwnRemark } from '../items/remarks';
import { asStaff, type Tx } from '../platform/db/database';
import { sendRequest } from '../requests/send-request';
import { countRounds, readRounds } from '../rounds/read-rounds';
import { itemsOf, paperLine, requestTo, sendPlanned } from '../testing/test-firm';
import { client, context, firm, useFirm } from '../testing/use-firm';
import { giveAnswer } from './give';
import { readTalk, writeOwnWords } from './words';

useFirm();
let itemId: string;
beforeEach(async () => {
	context.mailer.sent.length = 0;
	itemId = (await itemsOf(context, await sendRequest(context, firm.id, firm.odalys(), requestTo(client, [paperLine('Lease', '2026-05-20')]))))[0].id;
});
const talk = () => ({ clientId: client.id, contactId: client.contactId });
const ask = (words: string) => client.run((tx) => writeOwnRemark(tx, client.mara(), { itemId, words, pinned: null }));
const write = (words: string) => client.run((tx) => writeOwnWords(tx, client.mara(), { clientId: client.id, words }));
const give = (of: Parameters<typeof giveAnswer>[2], to: string, had = '', by = firm.odalys()) =>
	firm.run((tx) => giveAnswer(tx, by, of, { to, had }));
const looksAfterIt = () => context.owner.query(`update client set responsible_id = $1 where id = $2`, [firm.odalys().id, client.id]);
/** What stands in somebody's Rounds of what clients wrote, where it shows the clients they look after alone. */
const mineOf = async (reader = firm.odalys(), mine: string | null = reader.id!) => {
	const rows = (await firm.run(async (tx) => readRounds(tx, reader, await loadFirm(tx), { due: (d) => d }, mine))).rows;
	const counts = await firm.run(async (tx) => countRounds(tx, await loadFirm(tx), context.clock.now(), mine, reader.id));
	const shown = rows.filter(({ section }) => section === 'talk' || section === 'words');
	expect(counts.talk + counts.words).toBe(shown.length);
	return shown.map(({ words, aside }) => `${words} ${aside}`);
};
const mails = () => context.mailer.sent.filter(({ to }) => to.address === `${firm.partner.id}@staff.example`);
const partner = () => ({ ...firm.partner, now: context.clock.now() });

describe('what a client wrote is given to a colleague to answer', () => {
	test('it leaves one’s own Rounds for theirs with what is written after it, and everybody’s says who has it; answered, it is nobody’s', async () => {
		await looksAfterIt();
		await ask('Which landlord?');
		await write('We are moving.');
		expect(await mineOf()).toHaveLength(2);
		await give({ itemId }, firm.partner.id!);
		await give(talk(), firm.partner.id!);
		expect(await mineOf()).toEqual([]);
		expect(await mineOf(partner())).toEqual([
			`Lease: “Which landlord?” Mara Whitlock · given to you by ${firm.odalys().name}`,
			`“We are moving.” Mara Whitlock · given to you by ${firm.odalys().name}`
		]);
		expect(await mineOf(firm.odalys(), null)).toEqual([
			`Lease: “Which landlord?” Mara Whitlock · ${firm.partner.name} has it`,
			`“We are moving.” Mara Whitlock · ${firm.partner.name} has it`
		]);
		await ask('The old one?');
		await write('To Harbour Street.');
		expect(await mineOf()).toEqual([]);
		expect((await firm.run((tx) => readTalk(tx, firm.odalys(), talk()))).words.map(({ given }) => given?.name)).toEqual([
			firm.partner.name,
			firm.partner.name
		]);
		await firm.run((tx) => markRemarksSeen(tx, partner(), itemId));
		await ask('One more thing.');
		expect(await mineOf()).toEqual(['Lease: “One more thing.” Mara Whitlock']);
		// what a client reads says nothing of it
		expect((await client.run((tx) => readRemarks(tx, client.mara(), itemId))).map(({ given }) => given)).toEqual([null, null, null]);
	});

	test('who is given it gets one mail with the words, however often it is pressed, and none once it was answered or taken back', async () => {
		await ask('Which landlord?');
		await give({ itemId }, firm.partner.id!);
		await give({ itemId }, firm.partner.id!);
		await sendPlanned(context, firm);
		expect(mails()).toHaveLength(1);
		expect(mails()[0].text).toContain('Which landlord?');
		expect(mails()[0].text).toContain(`/desk/rounds/talk-${itemId}`);
		await give({ itemId }, '', firm.partner.id!);
		await write('We are moving.');
		await give(talk(), firm.partner.id!);
		await give(talk(), firm.odalys().id!, firm.partner.id!);
		await sendPlanned(context, firm);
		expect(mails()).toHaveLength(1);
		const { rows } = await context.owner.query(`select verb, details from event where firm_id = $1 and verb like 'answer_%' order by id`, [firm.id]);
		expect(rows.map(({ verb, details }) => [verb, details.what, details.to])).toEqual([
			['answer_given', '“Lease”', firm.partner.name],
			['answer_let_go', '“Lease”', undefined],
			['answer_given', 'Mara Whitlock', firm.partner.name],
			['answer_given', 'Mara Whitlock', firm.odalys().name]
		]);
	});

	test('two at once: the second hears to whom it was given meanwhile; of what was answered both hear', async () => {
		await ask('Which landlord?');
		await give({ itemId }, firm.partner.id!);
		await expect(give({ itemId }, firm.odalys().id!)).rejects.toMatchObject({
			code: 'changed_meanwhile',
			message: `It was given to ${firm.partner.name} by now.`
		});
		await firm.run((tx) => markRemarksSeen(tx, firm.odalys(), itemId));
		await expect(give({ itemId }, '', firm.partner.id!)).rejects.toMatchObject({ code: 'changed_meanwhile' });
	});

	test('not by whose role cannot answer, nor to them, nor to whom the client is closed; who loses the client loses it too', async () => {
		await looksAfterIt();
		await ask('Which landlord?');
		await expect(give({ itemId }, firm.partner.id!, '', { ...firm.odalys(), role: 'filing' })).rejects.toMatchObject({ code: 'not_allowed' });
		await expect(give({ itemId }, firm.filing.id!)).rejects.toMatchObject({ code: 'invalid' });
		await expect(give({ itemId }, '00000000-0000-4000-8000-000000000000')).rejects.toMatchObject({ code: 'invalid' });
		await give({ itemId }, firm.partner.id!);
		await firm.run((tx) => changeClientRights(tx, firm.odalys(), { clientId: client.id, restricted: true, rights: [] }));
		// it is of whoever looks after the client again, and the mail does not go
		expect(await mineOf()).toEqual(['Lease: “Which landlord?” Mara Whitlock']);
		await sendPlanned(context, firm);
		expect(mails()).toHaveLength(0);
		const work = (tx: Tx) => giveAnswer(tx, partner(), { itemId }, { to: '', had: '' });
		await expect(asStaff(context.db, firm.partner.id!).inFirm(firm.id, work)).rejects.toMatchObject({ code: 'not_found' });
	});
});
