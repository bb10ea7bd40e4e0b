import { randomUUID } from 'node:crypto';
import { beforeEach, describe, expect, test } from 'vitest';
import type { Role } from '$lib/core/people/roles';
import { TOLD_NOTHING, type Telling } from '$lib/core/telling/telling';
import type { Actor } from '../actor';
import { recordEvent } from '../audit/record-event';
import { changeClientRights } from '../clients/client-rights';
import { readMessage, readPostroom } from '../messages/read-postroom';
import { asStaff, type Tx } from '../platform/db/database';
import { writeNote } from '../talk/notes';
import { makeClient, makeFirm, sendPlanned, type TestClient } from '../testing/test-firm';
import { client, context, firm, useFirm } from '../testing/use-firm';
import { changeOwnTelling, changeUsualTelling, isToldOf, readOwnTelling, tellAsUsual, tellLikeOthers, tellOf } from './settings';
import { tellStaff } from './tell-staff';

// Monday 4 May 2026, half past ten in Halifax
useFirm();
const daily: Telling = { ...TOLD_NOTHING, summary: 'daily', time: '08:00' };
const atOnce: Telling = { ...TOLD_NOTHING, kinds: { ...TOLD_NOTHING.kinds, words: 'at_once' } };
let imre: Actor;
let other: TestClient;

async function colleague(name: string, role: Role): Promise<Actor> {
	const id = randomUUID();
	await context.owner.query(
		`insert into staff (id, firm_id, name, email, role, created_at, password_hash) values ($1, $2, $3, $4, $5, '2026-01-02T00:00:00Z', 'x')`,
		[id, firm.id, name, `${name.split(' ')[0].toLowerCase()}@${id.slice(0, 8)}.example`, role]
	);
	return { ...firm.partner, id, name, role };
}
beforeEach(async () => {
	imre = await colleague('Imre Vask', 'bookkeeper');
	other = await makeClient(context, firm, { name: 'Ferry Café', access: false });
	await context.owner.query(`update client set responsible_id = $2 where id = $1`, [other.id, imre.id]);
	await sendPlanned(context, firm);
	context.mailer.sent.length = 0;
});
const as = <T>(actor: Actor, run: (tx: Tx) => Promise<T>) => asStaff(context.db, actor.id!).inFirm(firm.id, run);
const choose = (who: Actor, telling: Telling) => as(who, (tx) => changeOwnTelling(tx, { ...who, now: context.clock.now() }, telling));
/** A client does something. */
const happens = (of: TestClient, words: string, verb: 'own_words_written' | 'paper_arrived' | 'chasing_ran_out' = 'own_words_written') =>
	firm.run((tx) =>
		recordEvent(
			tx,
			{ kind: 'contact', id: of.contactId, name: 'Mara Gullstring', role: null, now: context.clock.now(), ip: '', userAgent: '' },
			{ verb, clientId: of.id, details: verb === 'paper_arrived' ? { name: words } : { words } }
		)
	);
/** The clock stands at a time, and the worker looks. */
async function worker(at: string) {
	context.clock.set(at);
	await tellStaff(context.db, firm.id, at);
	await sendPlanned(context, firm);
	return context.mailer.sent.splice(0).map(({ to, subject, text }) => ({ to: to.address, subject, text }));
}

describe('a summary', () => {
	test('tells what clients did since the last one, by client; nobody else’s, and what colleagues did not', async () => {
		await choose(firm.odalys(), daily);
		await happens(client, 'The lease is with the landlord');
		await happens(other, 'Not for her');
		await as(imre, (tx) => recordEvent(tx, imre, { verb: 'words_written', clientId: client.id, details: { contact: 'Mara', words: 'ours' } }));
		expect(await worker('2026-05-05T10:59:00Z')).toEqual([]);
		const [mail, ...more] = await worker('2026-05-05T11:00:00Z');
		expect(more).toEqual([]);
		expect(mail.subject).toMatch(/^Tue 5 May: one thing new, /);
		expect(mail.text).toContain('Mara Gullstring wrote: “The lease is with the landlord”');
		expect(mail.text).not.toContain('Not for her');
		expect(mail.text).not.toContain('ours');
		expect(mail.text).toContain('because you work at');
		// once, and the next day only what is new
		expect(await worker('2026-05-05T18:00:00Z')).toEqual([]);
		await happens(client, 'Second thing');
		const [next] = await worker('2026-05-06T11:00:00Z');
		expect(next.text).toContain('Second thing');
		expect(next.text).not.toContain('The lease');
	});
	test('of all clients, with who is away; a kind that is not wished is not in it', async () => {
		await choose(firm.odalys(), { ...daily, whose: 'all', kinds: { ...daily.kinds, arrivals: 'not' } });
		await happens(other, 'For her as well');
		await happens(client, 'lease.pdf', 'paper_arrived');
		await context.owner.query(
			`insert into chase_hold (id, firm_id, contact_id, until, why, reason, set_at, set_by) values ($1, $2, $3, '2026-05-20', 'away', '', now(), 'Mara')`,
			[randomUUID(), firm.id, client.contactId]
		);
		const [mail] = await worker('2026-05-05T11:00:00Z');
		expect(mail.text).toContain('For her as well');
		expect(mail.text).not.toContain('lease.pdf');
		expect(mail.text).toMatch(/Away:\n- .*until Wed 20 May/);
	});
	test('says so where nothing happened and something waits; where nothing waits either, no mail goes', async () => {
		await choose(firm.odalys(), daily);
		expect(await worker('2026-05-05T11:00:00Z')).toEqual([]);
		await as(imre, (tx) => writeNote(tx, imre, { clientId: client.id, words: '@Odalys, could you look?' }));
		const mail = (await worker('2026-05-06T11:00:00Z')).find(({ subject }) => subject === 'Wed 6 May: nothing new, one thing waits')!;
		expect(mail.text).toContain('Nothing has happened since');
		expect(mail.text).toContain('Named you in a note: 1, since');
	});
	test('two workers at once send one', async () => {
		await choose(firm.odalys(), daily);
		await happens(client, 'Once');
		context.clock.set('2026-05-05T11:00:00Z');
		await Promise.all([1, 2, 3].map(() => tellStaff(context.db, firm.id, '2026-05-05T11:00:00Z')));
		expect(await worker('2026-05-05T11:01:00Z')).toHaveLength(1);
	});
	test('what a client did in the last minutes, and is written down late, is in the next one', async () => {
		await choose(firm.odalys(), daily);
		await happens(client, 'In time');
		context.clock.set('2026-05-05T10:59:30Z');
		await happens(client, 'At the last moment');
		expect((await worker('2026-05-05T11:00:00Z'))[0].text).not.toContain('At the last moment');
		await firm.run((tx) =>
			recordEvent(
				tx,
				{ kind: 'contact', id: client.contactId, name: 'Mara', role: null, now: '2026-05-05T10:59:40Z', ip: '', userAgent: '' },
				{ verb: 'own_words_written', clientId: client.id, details: { words: 'Written down late' } }
			)
		);
		const [next] = await worker('2026-05-06T11:00:00Z');
		expect(next.text).toContain('At the last moment');
		expect(next.text).toContain('Written down late');
		expect(next.text).not.toContain('In time');
	});
});

describe('at once', () => {
	test('what happens one after another is told together, and is not in the summary again', async () => {
		await choose(firm.odalys(), { ...atOnce, summary: 'daily', time: '08:00' });
		context.clock.set('2026-05-04T14:00:00Z');
		await happens(client, 'First');
		const [first] = await worker('2026-05-04T14:03:00Z');
		expect(first.subject).toBe(`Gull & String Kites: Mara Gullstring wrote: “First”`);
		await happens(client, 'Second');
		await happens(client, 'Third');
		expect(await worker('2026-05-04T14:10:00Z')).toEqual([]);
		const [then, ...more] = await worker('2026-05-04T14:18:00Z');
		expect(more).toEqual([]);
		expect(then.subject).toBe('Gull & String Kites: 2 things new');
		expect(then.text).not.toContain('First');
		for (const mail of await worker('2026-05-05T11:00:00Z')) expect(mail.text).not.toContain('Second');
	});
	test('that it did not arrive is not told by another one', async () => {
		await choose(firm.odalys(), { ...TOLD_NOTHING, whose: 'all', kinds: { ...TOLD_NOTHING.kinds, words: 'at_once', no_help: 'at_once' } });
		context.clock.set('2026-05-04T14:00:00Z');
		await happens(client, 'First');
		context.mailer.answers.push({ outcome: 'refused', reason: 'no such mailbox' });
		expect(await worker('2026-05-04T14:03:00Z')).toEqual([]);
		const { rows } = await context.owner.query(`select verb from event where firm_id = $1 order by id desc limit 1`, [firm.id]);
		expect(rows).toEqual([{ verb: 'message_failed' }]);
		for (const at of ['14:20', '14:40', '15:00']) expect(await worker(`2026-05-04T${at}:00Z`)).toEqual([]);
	});
	test('is not told of before it was chosen', async () => {
		await happens(client, 'Long ago');
		context.clock.set('2026-05-04T15:00:00Z');
		await choose(firm.odalys(), atOnce);
		context.clock.set('2026-05-04T15:01:00Z');
		await happens(client, 'Now');
		const [mail] = await worker('2026-05-04T15:05:00Z');
		expect(mail.text).toContain('Now');
		expect(mail.text).not.toContain('Long ago');
	});
});

describe('whom it goes to', () => {
	test('an administrator says what is usual; whoever chose for themselves keeps that, until they want the usual again', async () => {
		const admin = { ...firm.partner, role: 'administrator' as const };
		await expect(as(firm.odalys(), (tx) => changeUsualTelling(tx, firm.odalys(), daily))).rejects.toMatchObject({ code: 'not_allowed' });
		await choose(imre, TOLD_NOTHING);
		await as(admin, (tx) => changeUsualTelling(tx, { ...admin, now: context.clock.now() }, daily));
		await happens(client, 'Her client');
		await happens(other, 'His client');
		expect(
			(await worker('2026-05-05T11:00:00Z')).filter(({ text }) => /Her client|His client/.test(text)).map(({ text }) => text.includes('Her client'))
		).toEqual([true]);
		await as(imre, (tx) => tellAsUsual(tx, { ...imre, now: context.clock.now() }));
		expect((await as(imre, (tx) => readOwnTelling(tx, imre))).own).toBe(false);
		await happens(other, 'His second');
		expect((await worker('2026-05-06T11:00:00Z')).some(({ text }) => text.includes('His second'))).toBe(true);
	});
	test('whoever joins the firm later is told as is usual from then on, and whoever is suspended is not', async () => {
		const admin = { ...firm.partner, role: 'administrator' as const };
		await as(admin, (tx) => changeUsualTelling(tx, { ...admin, now: context.clock.now() }, { ...daily, whose: 'all' }));
		const tove = await colleague('Tove Lind', 'bookkeeper');
		await worker('2026-05-04T16:00:00Z');
		await happens(client, 'Seen by all');
		await context.owner.query('update staff set suspended_at = now() where id = $1', [imre.id]);
		const to = (await worker('2026-05-05T11:00:00Z')).map((mail) => mail.to);
		expect(to.filter((address) => address.startsWith('tove'))).toHaveLength(1);
		expect(to.filter((address) => address.startsWith('imre'))).toHaveLength(0);
		expect(tove.id).toBeTruthy();
	});
	test('one is told of a client besides, or not of one that one looks after', async () => {
		const told = (who: Actor, of: TestClient) => as(who, (tx) => isToldOf(tx, who, of.id));
		expect(await told(imre, client)).toBeNull();
		await choose(imre, daily);
		expect([await told(imre, client), await told(imre, other)]).toEqual([false, true]);
		await as(imre, (tx) => tellOf(tx, imre, { clientId: client.id, told: true }));
		await as(imre, (tx) => tellOf(tx, imre, { clientId: other.id, told: false }));
		expect([await told(imre, client), await told(imre, other)]).toEqual([true, false]);
		await happens(client, 'Told besides');
		await happens(other, 'Not told');
		const text = (await worker('2026-05-05T11:00:00Z')).map((mail) => mail.text).join();
		expect(text).toContain('Told besides');
		expect(text).not.toContain('Not told');
		// what is as it would be anyway is not kept apart
		await as(imre, (tx) => tellOf(tx, imre, { clientId: other.id, told: true }));
		expect((await as(imre, (tx) => readOwnTelling(tx, imre))).clients).toMatchObject([{ id: client.id, told: true }]);
		// of all by now, like others means told, though it was told of besides before
		await choose(imre, { ...daily, whose: 'all' });
		await as(imre, (tx) => tellLikeOthers(tx, imre, client.id));
		expect([await told(imre, client), (await as(imre, (tx) => readOwnTelling(tx, imre))).clients]).toEqual([true, []]);
	});
	test('nobody hears of a client that is closed to them, also not when it is closed while the mail waits', async () => {
		await choose(imre, { ...daily, whose: 'all' });
		await choose(firm.odalys(), { ...atOnce, whose: 'all' });
		await happens(client, 'Behind a wall');
		await firm.run((tx) => changeClientRights(tx, firm.odalys(), { clientId: client.id, restricted: true, rights: [] }));
		for (const mail of await worker('2026-05-05T11:00:00Z'))
			if (mail.to.startsWith('imre')) {
				expect(mail.text).not.toContain('Behind a wall');
				expect(mail.subject).not.toContain('Gull & String');
			}
		await expect(as(imre, (tx) => tellOf(tx, imre, { clientId: client.id, told: true }))).rejects.toMatchObject({ code: 'not_found' });
		await firm.run((tx) => changeClientRights(tx, firm.odalys(), { clientId: client.id, restricted: false, rights: [] }));
		await happens(client, 'Planned before');
		context.clock.set('2026-05-06T11:00:00Z');
		await tellStaff(context.db, firm.id, '2026-05-06T11:00:00Z');
		await firm.run((tx) => changeClientRights(tx, firm.odalys(), { clientId: client.id, restricted: true, rights: [] }));
		await sendPlanned(context, firm);
		for (const { to, text } of context.mailer.sent) if (to.address.startsWith('imre')) expect(text).not.toContain('Planned before');
	});
	test('the Postroom shows colleagues that it went, and not what it said', async () => {
		await choose(firm.odalys(), daily);
		await happens(client, 'Only for her eyes');
		await worker('2026-05-05T11:00:00Z');
		const rows = await as(imre, (tx) => readPostroom(tx, imre, {}, 50));
		const summary = rows.find(({ kind }) => kind === 'summary')!;
		expect(summary.subject).toMatch(/one thing new/);
		const kept = await as(imre, (tx) => readMessage(tx, imre, summary.id));
		expect(`${kept.bodyText} ${kept.bodyHtml}`).not.toContain('Only for her eyes');
		expect(kept.bodyText).toContain('is not kept here');
	});
	test('nor in its subject, what was told at once', async () => {
		await choose(firm.odalys(), atOnce);
		context.clock.set('2026-05-04T13:31:00Z');
		await happens(client, 'Only for her eyes');
		await worker('2026-05-04T13:35:00Z');
		const [row] = await as(imre, (tx) => readPostroom(tx, imre, {}, 1));
		expect(row).toMatchObject({ kind: 'told_at_once', subject: 'Told at once', state: 'sent' });
	});
	test('nothing of another firm', async () => {
		const elsewhere = await makeFirm(context);
		await choose(firm.odalys(), { ...daily, whose: 'all' });
		await elsewhere.run((tx) =>
			recordEvent(
				tx,
				{ kind: 'nobody', id: null, name: 'Somebody', role: null, now: context.clock.now(), ip: '', userAgent: '' },
				{ verb: 'public_answer_came', details: { title: 'Theirs' } }
			)
		);
		expect((await worker('2026-05-05T11:00:00Z')).map(({ text }) => text).join()).not.toContain('Theirs');
	});
});
