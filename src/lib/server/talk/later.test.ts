import { beforeEach, describe, expect, test } from 'vitest';
import { laterSchema } from '$lib/core/talk/later';

import { asStaff, type Tx } from '../platform/db/database';
import { changeClientRights } from '../clients/client-rights';
import { loadFirm } from '../firms/firm';
import { markRemarksSeen, readRemarks, writeOwnRemark } from '../items/remarks';
import { sendRequest } from '../requests/send-request';
import { countRounds, readRounds } from '../rounds/read-rounds';
import { itemsOf, makeClient, paperLine, requestTo } from '../testing/test-firm';
import { client, context, firm, useFirm } from '../testing/use-firm';
import { putOffAnswer } from './later';
import { readTalk, writeOwnWords } from './words';

useFirm();
let itemId: string;
beforeEach(async () => {
	itemId = (await itemsOf(context, await sendRequest(context, firm.id, firm.odalys(), requestTo(client, [paperLine('Lease', '2026-05-20')]))))[0].id;
});
/** The rows of Rounds with what clients wrote, and how many its head counts. */
const waiting = async () => {
	const rows = (await firm.run(async (tx) => readRounds(tx, firm.odalys(), await loadFirm(tx), { due: (d) => d }))).rows;
	const counts = await firm.run(async (tx) => countRounds(tx, await loadFirm(tx), context.clock.now(), null, null));
	const shown = rows.filter(({ section }) => section === 'talk' || section === 'words').map(({ section, words }) => `${section} ${words}`);
	expect(counts.talk + counts.words).toBe(shown.length);
	return shown;
};
const talk = () => ({ clientId: client.id, contactId: client.contactId });
const putOff = (of: Parameters<typeof putOffAnswer>[3], until: string, by = firm.odalys()) =>
	firm.run(async (tx) => putOffAnswer(tx, by, await loadFirm(tx), of, until));
const ask = (words: string) => client.run((tx) => writeOwnRemark(tx, client.mara(), { itemId, words, pinned: null }));
const write = (words: string) => client.run((tx) => writeOwnWords(tx, client.mara(), { clientId: client.id, words }));

describe('what a client wrote is answered later', () => {
	test('it leaves Rounds until that day of the firm, with who put it off; the other one stays', async () => {
		await ask('Which landlord?');
		await write('We are moving.');
		await putOff({ itemId }, '2026-05-06');
		expect(await waiting()).toEqual(['words “We are moving.”']);
		await putOff(talk(), '2026-05-05');
		expect(await waiting()).toEqual([]);
		const read = await firm.run((tx) => readTalk(tx, firm.odalys(), talk()));
		expect(read.words[0].later).toEqual({ until: '2026-05-05', by: firm.odalys().name });
		expect(read.unseen).toBe(1);
		// midnight in Halifax is three hours later than in Greenwich
		context.clock.set('2026-05-05T02:59:00Z');
		expect(await waiting()).toEqual([]);
		context.clock.set('2026-05-05T03:01:00Z');
		expect(await waiting()).toEqual(['words “We are moving.”']);
		context.clock.set('2026-05-06T12:00:00Z');
		expect(await waiting()).toHaveLength(2);
	});

	test('what they write until then stands there at once; once it is read nothing can be put off', async () => {
		await ask('Which landlord?');
		await putOff({ itemId }, '2026-05-20');
		expect(await waiting()).toEqual([]);
		await ask('It is urgent!');
		expect(await waiting()).toEqual(['talk Lease: “It is urgent!”']);
		await firm.run((tx) => markRemarksSeen(tx, firm.odalys(), itemId));
		await expect(putOff({ itemId }, '2026-05-21')).rejects.toMatchObject({ code: 'changed_meanwhile' });
	});

	test('no client reads that it was put off, and it is in the history', async () => {
		await ask('Which landlord?');
		await putOff({ itemId }, '2026-05-20');
		expect((await client.run((tx) => readRemarks(tx, client.mara(), itemId)))[0].later).toBeNull();
		const { rows } = await context.owner.query(`select details from event where firm_id = $1 and verb = 'answer_put_off'`, [firm.id]);
		expect(rows).toEqual([{ details: { what: '“Lease”', until: 'Wed 20 May' } }]);
	});

	test('not by whose role cannot answer, of another client, or of whom it is closed to', async () => {
		await write('We are moving.');
		await expect(putOff(talk(), '2026-05-20', { ...firm.odalys(), role: 'filing' })).rejects.toMatchObject({ code: 'not_allowed' });
		const other = await makeClient(context, firm, { name: 'Other' });
		await expect(putOff({ clientId: other.id, contactId: client.contactId }, '2026-05-20')).rejects.toMatchObject({ code: 'not_found' });
		await firm.run((tx) => changeClientRights(tx, firm.odalys(), { clientId: client.id, restricted: true, rights: [] }));
		const work = async (tx: Tx) => putOffAnswer(tx, firm.partner, await loadFirm(tx), talk(), '2026-05-20');
		await expect(asStaff(context.db, firm.partner.id!).inFirm(firm.id, work)).rejects.toMatchObject({ code: 'not_found' });
	});

	test('a day that lies ahead, sixty days at most', () => {
		const wrong = (until: string) => laterSchema('2026-05-04').safeParse({ until }).error?.issues[0].message;
		expect(wrong('2026-05-05')).toBeUndefined();
		expect(wrong('2026-07-03')).toBeUndefined();
		expect(wrong('2026-05-04')).toMatch(/lie ahead/);
		expect(wrong('2026-07-04')).toMatch(/sixty days/);
		expect(wrong('soon')).toMatch(/choose a day/);
	});
});
