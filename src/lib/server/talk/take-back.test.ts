import { randomUUID } from 'node:crypto';
import { beforeEach, describe, expect, test } from 'vitest';
import { loadFirm } from '../firms/firm';
import { markOwnRemarksSeen, readRemarks, writeOwnRemark, writeRemark } from '../items/remarks';
import { sendRequest } from '../requests/send-request';
import { countRounds } from '../rounds/read-rounds';
import { itemsOf, makeClient, paperLine, requestTo, sendPlanned } from '../testing/test-firm';
import { client, context, firm, useFirm } from '../testing/use-firm';
import { giveAnswer } from './give';
import { takeBack } from './take-back';
import { readTalk, writeOwnWords, writeWords } from './words';

useFirm();
let written: string;
let itemId: string;
beforeEach(async () => {
	written = randomUUID();
	itemId = (await itemsOf(context, await sendRequest(context, firm.id, firm.odalys(), requestTo(client, [paperLine('Lease', '2026-05-20')]))))[0].id;
	await sendPlanned(context, firm);
	context.mailer.sent.length = 0;
});
const talk = () => ({ clientId: client.id, contactId: client.contactId });
const ask = (words: string) => client.run((tx) => writeOwnRemark(tx, client.mara(), { itemId, words, pinned: null }));
const answer = (words: string, idempotencyKey = written) =>
	firm.run((tx) => writeRemark(tx, firm.odalys(), { itemId, words, pinned: null, idempotencyKey }));
const back = (of: Parameters<typeof takeBack>[2] = { itemId }, id = written, by = firm.odalys()) => firm.run((tx) => takeBack(tx, by, of, id));
/** What holds reminders and what waits in Rounds, as far as what is written changes it. */
const state = async () => {
	const counts = await firm.run(async (tx) => countRounds(tx, await loadFirm(tx), context.clock.now(), null, null));
	const { rows } = await context.owner.query(
		`select i.asks_us, i.next_chase_on::text, h.until::text, h.ended_at is null held from item i left join chase_hold h on h.contact_id = i.contact_id and h.why = 'replied' where i.id = $1`,
		[itemId]
	);
	return { talk: counts.talk, words: counts.words, rows };
};
const queued = async () =>
	(
		await context.owner.query(
			`select extract(epoch from j.run_at - clock_timestamp()) seconds from graphile_worker.jobs j join graphile_worker._private_jobs p on p.id = j.id
			where p.payload ->> 'messageId' in (select id::text from message where kind = 'remark' and state = 'planned')`
		)
	).rows.map(({ seconds }) => Number(seconds));

describe('what was just written to a client is taken back', () => {
	test('about an item: no mail goes, nobody reads it, what it answered waits and holds as before; sent again it goes', async () => {
		await ask('Which landlord?');
		const before = await state();
		await answer('The old one.');
		expect((await state()).talk).toBe(0);
		context.clock.set('2026-05-04T13:30:19Z');
		await back();
		expect(await state()).toEqual(before);
		await sendPlanned(context, firm);
		expect(context.mailer.sent).toEqual([]);
		expect((await client.run((tx) => readRemarks(tx, client.mara(), itemId))).map(({ words }) => words)).toEqual(['Which landlord?']);
		await answer('The new one.', randomUUID());
		await sendPlanned(context, firm);
		expect(context.mailer.sent.map(({ text }) => text.includes('The new one.'))).toEqual([true]);
		const { rows } = await context.owner.query(
			`select state, reason from message where kind = 'remark' and firm_id = $1 order by planned_at, state`,
			[firm.id]
		);
		expect(rows).toEqual([
			{ state: 'held_back', reason: 'taken back by whoever wrote it' },
			{ state: 'sent', reason: null }
		]);
	});

	test('in the talk with a person, with the hold of what they wrote and to whom it was given', async () => {
		await client.run((tx) => writeOwnWords(tx, client.mara(), { clientId: client.id, words: 'We are moving.' }));
		await firm.run((tx) => giveAnswer(tx, firm.odalys(), talk(), { to: firm.partner.id!, had: '' }));
		const before = await state();
		expect(before.rows[0].held).toBe(true);
		await firm.run((tx) => writeWords(tx, firm.odalys(), { ...talk(), words: 'When?', idempotencyKey: written }));
		expect((await state()).rows[0].held).toBe(false);
		await back(talk());
		expect(await state()).toEqual(before);
		const read = await firm.run((tx) => readTalk(tx, firm.odalys(), talk()));
		expect(read.words.map(({ words, given }) => [words, given?.name])).toEqual([['We are moving.', firm.partner.name]]);
		const { rows } = await context.owner.query(`select details from event where firm_id = $1 and verb = 'words_taken_back'`, [firm.id]);
		expect(rows).toEqual([{ details: { what: 'Mara Whitlock' } }]);
	});

	test('its mail waits longer than it is offered; what nobody can take back goes at once', async () => {
		await answer('The old one.');
		const [wait] = await queued();
		expect(wait).toBeGreaterThan(20);
		expect(wait).toBeLessThanOrEqual(25);
		await back();
		await firm.run((tx) => writeRemark(tx, firm.odalys(), { itemId, words: 'Sent back with this.', pinned: null }));
		expect((await queued()).every((seconds) => seconds <= 0)).toBe(true);
	});

	test('pressed twice it is written once', async () => {
		await answer('The old one.');
		await answer('The old one.');
		await sendPlanned(context, firm);
		expect(context.mailer.sent).toHaveLength(1);
	});

	test('not once they have read it, nor once it is on its way or its time is over', async () => {
		await answer('The old one.');
		await client.run((tx) => markOwnRemarksSeen(tx, itemId, context.clock.now()));
		await expect(back()).rejects.toMatchObject({ code: 'changed_meanwhile', message: expect.stringContaining('read it on their page') });
		const second = randomUUID();
		await answer('And the new one.', second);
		await sendPlanned(context, firm);
		await expect(back({ itemId }, second)).rejects.toMatchObject({ code: 'changed_meanwhile', message: expect.stringContaining('gone by now') });
		const third = randomUUID();
		await answer('Both.', third);
		context.clock.set('2026-05-04T13:30:26Z');
		await expect(back({ itemId }, third)).rejects.toMatchObject({ code: 'changed_meanwhile' });
	});

	test('not by anybody else, nor a client’s own words, nor under another thing', async () => {
		await answer('The old one.');
		await expect(back({ itemId }, written, { ...firm.partner, now: context.clock.now() })).rejects.toMatchObject({ code: 'not_found' });
		await expect(back({ itemId }, written, { ...firm.odalys(), role: 'filing' })).rejects.toMatchObject({ code: 'not_allowed' });
		await expect(back(talk())).rejects.toMatchObject({ code: 'not_found' });
		const other = await makeClient(context, firm, { name: 'Other' });
		await expect(back({ clientId: other.id, contactId: other.contactId })).rejects.toMatchObject({ code: 'not_found' });
		await ask('Mine');
		const { rows } = await context.owner.query(`select id from remark where words = 'Mine' and client_id = $1`, [client.id]);
		await expect(back({ itemId }, rows[0].id)).rejects.toMatchObject({ code: 'not_found' });
	});
});
