import { randomUUID } from 'node:crypto';
import { Readable } from 'node:stream';
import { afterAll, beforeAll, beforeEach, describe, expect, test } from 'vitest';
import { chasePeople } from '../chasing/chase-people';
import { inviteContacts } from '../invitations/invite';
import { takeInPaper } from '../papers/papers';
import { beginSession, resumeSession } from '../people/sessions';
import { answerItem } from '../item-kinds/kinds/question';
import { seeItem } from '../items/client-item';
import { acceptItem, waiveItem } from '../requests/judge-item';
import { readOwnItems } from '../items/read-items';
import { sendRequest } from '../requests/send-request';
import { loadFirm } from '../firms/firm';
import { countRounds } from '../rounds/read-rounds';
import { recordValues } from '../letters/record-values';
import { addService, endService, readServiceUse } from '../firms/services';
import {
	itemsOf,
	makeClient,
	makeFirm,
	openTestContext,
	paperLine,
	questionLine,
	requestTo,
	sendPlanned,
	type TestClient,
	type TestFirm,
	type TestContext
} from '../testing/test-firm';
import { readFacts, sayFact } from './client-facts';
import { changeClient, endEngagement, moveClient, readEngagements, writeEngagement } from './client-record';
import { readNotes, removeNote, writeNote } from '../talk/notes';
import { addContact, changeContact, putContactFirst, clearContactSecondStep, signOutContact, suspendContact, takeContactOff } from './contacts';
import { findClients, findLikelySame, noteClientOpened } from './find-clients';
import { findThings } from './find-things';
import { readClient, readHistory } from './read-clients';

let context: TestContext;
let firm: TestFirm;
let client: TestClient;

beforeAll(async () => {
	context = await openTestContext();
});
afterAll(() => context.close());
beforeEach(async () => {
	context.clock.set('2026-05-04T13:30:00Z');
	firm = await makeFirm(context);
	client = await makeClient(context, firm);
});

const verbs = async () => (await firm.run((tx) => readHistory(tx, firm.odalys(), client.id, null, 50))).map((event) => event.verb).reverse();
const person = { name: 'Abel Thorne', email: 'abel@thorne.example', phone: '+19025550134', role: 'bookkeeper', channels: 'email' as const };
const add = (more: Partial<typeof person> & { knownId?: string } = {}, to = client) =>
	firm.run((tx) => addContact(tx, firm.odalys(), { clientId: to.id, knownId: null, ...person, ...more }));

describe('facts', () => {
	const say = (value: string, actor = firm.odalys()) => firm.run((tx) => sayFact(tx, actor, { clientId: client.id, name: 'employees', value }));

	test('a correction keeps what was said before, by whom and when', async () => {
		await say('1');
		context.clock.set('2026-05-05T13:30:00Z');
		await say('2', { ...firm.partner, now: context.clock.now() });
		const [fact] = await firm.run((tx) => readFacts(tx, firm.odalys(), client.id));
		expect(fact).toEqual({
			name: 'employees',
			value: '2',
			saidBy: 'Ferrin Ashgrove',
			saidAt: '2026-05-05T13:30:00.000Z',
			confirmedBy: null,
			confirmedAt: null,
			answers: null,
			paper: null,
			earlier: [{ value: '1', saidBy: 'Odalys Fenwick', saidAt: '2026-05-04T13:30:00.000Z' }]
		});
		expect((await verbs()).slice(-2)).toEqual(['fact_said', 'fact_corrected']);
	});
	test('saying the same again is no correction; two at once leave one current fact', async () => {
		await say('1');
		await say('1');
		expect((await verbs()).filter((verb) => verb.startsWith('fact'))).toEqual(['fact_said']);
		await Promise.all(['3', '4', '5'].map((value) => say(value)));
		const [fact] = await firm.run((tx) => readFacts(tx, firm.odalys(), client.id));
		expect(fact.earlier).toHaveLength(3);
	});
	test('filing may read them, not write', async () => {
		await expect(say('1', firm.filing)).rejects.toMatchObject({ code: 'not_allowed' });
		expect(await firm.run((tx) => readFacts(tx, firm.filing, client.id))).toEqual([]);
	});
});

describe('notes', () => {
	test('are the firm’s alone: the contact’s role cannot read them at all', async () => {
		await firm.run((tx) => writeNote(tx, firm.odalys(), { clientId: client.id, words: 'Late payer' }));
		await expect(client.run((tx) => tx.rows('select * from client_note'))).rejects.toMatchObject({ code: '42501' });
		expect((await firm.run((tx) => readNotes(tx, firm.odalys(), client.id))).map((note) => note.words)).toEqual(['Late payer']);
	});
	test('are taken off once; a note of another client does not exist here', async () => {
		await firm.run((tx) => writeNote(tx, firm.odalys(), { clientId: client.id, words: 'x' }));
		const [{ id }] = await firm.run((tx) => readNotes(tx, firm.odalys(), client.id));
		const other = await makeClient(context, firm);
		await expect(firm.run((tx) => removeNote(tx, firm.odalys(), { clientId: other.id, noteId: id }))).rejects.toMatchObject({ code: 'not_found' });
		for (let i = 0; i < 2; i++) await firm.run((tx) => removeNote(tx, firm.odalys(), { clientId: client.id, noteId: id }));
		expect((await verbs()).filter((verb) => verb === 'note_removed')).toHaveLength(1);
	});
});

describe('a client that is locked or ended', () => {
	const move = (to: 'lock' | 'unlock' | 'end' | 'reopen') =>
		firm.run((tx) => moveClient(tx, firm.odalys(), { clientId: client.id, move: to, reason: 'because' }));
	const ask = async () =>
		itemsOf(
			context,
			await sendRequest(context, firm.id, firm.odalys(), requestTo(client, [questionLine('Q', '2026-05-07'), paperLine('P', '2026-05-07')]))
		);
	const beat = async (at: string) => {
		context.clock.set(at);
		const planned = await chasePeople(context.db, firm.id, at);
		await sendPlanned(context, firm);
		return planned;
	};

	test.each(['lock', 'end'] as const)(
		'after “%s” nobody is chased, nothing is in Rounds as run out; afterwards it goes on where it stopped',
		async (how) => {
			await ask();
			await move(how);
			expect(await beat('2026-05-05T12:00:00Z')).toBe(0);
			expect(await beat('2026-05-20T12:00:00Z')).toBe(0);
			expect((await firm.run(async (tx) => countRounds(tx, await loadFirm(tx), context.clock.now()))).ran_out).toBe(0);
			await move(how === 'lock' ? 'unlock' : 'reopen');
			expect(await beat('2026-05-20T12:05:00Z')).toBe(1);
		}
	);
	test('a chase planned just before is held back', async () => {
		await ask();
		await sendPlanned(context, firm);
		context.clock.set('2026-05-05T12:00:00Z');
		expect(await chasePeople(context.db, firm.id, context.clock.now())).toBe(1);
		await move('lock');
		await sendPlanned(context, firm);
		const { rows } = await context.owner.query(`select state, reason from message where firm_id = $1 and kind = 'chase'`, [firm.id]);
		expect(rows).toEqual([{ state: 'held_back', reason: 'nothing is open any more' }]);
	});
	test('one client locked leaves the person’s other business chased', async () => {
		const other = await makeClient(context, firm, { name: 'Other', contactId: client.contactId, email: client.email });
		await ask();
		await sendRequest(context, firm.id, firm.odalys(), requestTo(other, [paperLine('Other paper', '2026-05-07')]));
		await sendPlanned(context, firm);
		await move('lock');
		expect(await beat('2026-05-05T12:00:00Z')).toBe(1);
		expect(context.mailer.sent.at(-1)!.text).toContain('Other paper');
		expect(context.mailer.sent.at(-1)!.text).not.toContain('Getting started');
	});
	test('nothing new is asked and nobody invited', async () => {
		const guest = await add();
		await move('lock');
		await expect(ask()).rejects.toMatchObject({ code: 'changed_meanwhile', message: expect.stringContaining('is locked') });
		await expect(
			firm.run((tx) =>
				inviteContacts(tx, firm.odalys(), { contactIds: [guest], clientId: client.id, subject: 's', body: 'b', idempotencyKey: randomUUID() })
			)
		).rejects.toMatchObject({ code: 'changed_meanwhile' });
	});
	test('the contact reads what there is and changes nothing', async () => {
		const [question, paper] = await ask();
		await move('end');
		await client.run((tx) => seeItem(tx, client.mara(), question.id));
		expect(await client.run((tx) => readOwnItems(tx, client.mara()))).toHaveLength(2);
		await expect(client.run((tx) => answerItem(tx, client.mara(), { itemId: question.id, answer: 'x' }))).rejects.toMatchObject({
			what: { key: 'wrong.client.closed' }
		});
		await expect(
			takeInPaper(context, firm.id, client.mara(), { itemId: paper.id, name: 'a.pdf', content: Readable.from([Buffer.from('%PDF-1.4 x')]) })
		).rejects.toMatchObject({ code: 'changed_meanwhile' });
	});
	test('the table decides, and the later of two is told how it stands', async () => {
		await move('lock');
		await expect(move('lock')).rejects.toMatchObject({ code: 'changed_meanwhile', message: expect.stringContaining('is locked now') });
		await expect(move('reopen')).rejects.toMatchObject({ code: 'changed_meanwhile' });
		await move('end');
		await move('reopen');
		expect((await verbs()).filter((verb) => /client_(locked|ended|reopened)/.test(verb))).toEqual([
			'client_locked',
			'client_ended',
			'client_reopened'
		]);
		await expect(firm.run((tx) => moveClient(tx, firm.filing, { clientId: client.id, move: 'end', reason: 'x' }))).rejects.toMatchObject({
			code: 'not_allowed'
		});
	});
});

describe('contacts', () => {
	test('a new person is added last, a known one only when chosen, nobody twice', async () => {
		const abel = await add();
		expect((await firm.run((tx) => readClient(tx, firm.odalys(), client.id))).contacts.map((c) => [c.name, c.phone, c.role])).toEqual([
			['Mara Whitlock', null, ''],
			['Abel Thorne', '+19025550134', 'bookkeeper']
		]);
		const other = await makeClient(context, firm);
		await expect(add({ email: 'ABEL@thorne.example' }, other)).rejects.toMatchObject({ code: 'invalid', fields: { known: expect.any(String) } });
		expect(await add({ knownId: abel }, other)).toBe(abel);
		await expect(add({ knownId: abel })).rejects.toMatchObject({ code: 'invalid', message: expect.stringContaining('already') });
	});
	test('changes are noted; a new address lets mail go to it again', async () => {
		await context.owner.query(`update contact set mail_problem = 'bounced' where id = $1`, [client.contactId]);
		const change = (more: Partial<typeof person>) =>
			firm.run((tx) =>
				changeContact(tx, firm.odalys(), { clientId: client.id, contactId: client.contactId, ...person, name: 'Mara Whitlock', ...more })
			);
		await change({ email: 'mara@new.example' });
		const [mara] = (await firm.run((tx) => readClient(tx, firm.odalys(), client.id))).contacts;
		expect(mara).toMatchObject({ email: 'mara@new.example', mailProblem: null, phone: '+19025550134', role: 'bookkeeper' });
		await change({ email: 'mara@new.example' });
		expect((await verbs()).slice(-2)).toEqual(['contact_address_changed', 'contact_changed']);
	});
	test('the first in rank can be changed', async () => {
		const abel = await add();
		await firm.run((tx) => putContactFirst(tx, firm.odalys(), { clientId: client.id, contactId: abel }));
		expect((await firm.run((tx) => readClient(tx, firm.odalys(), client.id))).contacts.map((c) => c.name)).toEqual(['Abel Thorne', 'Mara Whitlock']);
	});
	test('taken off only when nothing is asked of them and somebody is left', async () => {
		const take = (contactId: string) => firm.run((tx) => takeContactOff(tx, firm.odalys(), { clientId: client.id, contactId }));
		await expect(take(client.contactId)).rejects.toMatchObject({ message: expect.stringContaining('only person') });
		await add();
		const [item] = await itemsOf(context, await sendRequest(context, firm.id, firm.odalys(), requestTo(client, [questionLine('Q', '2026-05-07')])));
		await expect(take(client.contactId)).rejects.toMatchObject({ message: expect.stringContaining('One thing is still asked') });
		await firm.run((tx) => waiveItem(tx, firm.odalys(), { itemId: item.id, version: 1 }));
		await take(client.contactId);
		expect((await client.run((tx) => readOwnItems(tx, client.mara()))).length).toBe(0);
		await expect(take(client.contactId)).rejects.toMatchObject({ code: 'not_found' });
	});
	test('suspended: every session ends at once, no mail; and back again', async () => {
		const { token } = await client.run((tx) => beginSession(tx, client.mara(), { kind: 'contact', id: client.contactId }));
		const suspend = (on: boolean) =>
			firm.run((tx) => suspendContact(tx, firm.odalys(), { clientId: client.id, contactId: client.contactId, suspend: on }));
		expect(await resumeSession(context.db, token, 'contact', context.clock.now())).not.toBeNull();
		await suspend(true);
		await suspend(true);
		expect(await resumeSession(context.db, token, 'contact', context.clock.now())).toBeNull();
		await suspend(false);
		expect(await resumeSession(context.db, token, 'contact', context.clock.now())).toBeNull();
		expect((await verbs()).slice(-2)).toEqual(['contact_suspended', 'contact_restored']);
	});
	test('signed out everywhere they may sign in again, and their mail goes on', async () => {
		const { token } = await client.run((tx) => beginSession(tx, client.mara(), { kind: 'contact', id: client.contactId }));
		const signOut = (by = firm.odalys()) => firm.run((tx) => signOutContact(tx, by, { clientId: client.id, contactId: client.contactId }));
		await expect(signOut({ ...firm.odalys(), role: 'filing' })).rejects.toMatchObject({ code: 'not_allowed' });
		expect(await resumeSession(context.db, token, 'contact', context.clock.now())).not.toBeNull();
		await signOut();
		expect(await resumeSession(context.db, token, 'contact', context.clock.now())).toBeNull();
		const again = await client.run((tx) => beginSession(tx, client.mara(), { kind: 'contact', id: client.contactId }));
		expect(await resumeSession(context.db, again.token, 'contact', context.clock.now())).not.toBeNull();
		expect((await verbs()).at(-1)).toBe('contact_signed_out');
	});
	test('who has lost their second step gets in by the password again, and is told by mail', async () => {
		await context.owner.query(
			`insert into authenticator (id, firm_id, contact_id, secret, begun_at, confirmed_at) values (gen_random_uuid(), $1, $2, 'x', now(), now())`,
			[firm.id, client.contactId]
		);
		const clear = (by = firm.odalys()) => firm.run((tx) => clearContactSecondStep(tx, by, { clientId: client.id, contactId: client.contactId }));
		const has = async () => (await firm.run((tx) => readClient(tx, firm.odalys(), client.id))).contacts[0].hasSecondStep;
		await expect(clear({ ...firm.odalys(), role: 'filing' })).rejects.toMatchObject({ code: 'not_allowed' });
		expect(await has()).toBe(true);
		await clear();
		expect(await has()).toBe(false);
		expect((await verbs()).at(-1)).toBe('contact_second_step_cleared');
		const { rows } = await context.owner.query(
			`select content ->> 'change' change from message where contact_id = $1 and kind = 'second_step_changed'`,
			[client.contactId]
		);
		expect(rows).toEqual([{ change: 'cleared_by_firm' }]);
	});
});

describe('engagements and services', () => {
	test('begin, change, end and go on, with the services of the firm’s list', async () => {
		const admin = { ...firm.odalys(), role: 'administrator' as const };
		const books = await firm.run((tx) => addService(tx, admin, 'Monthly books'));
		const tax = await firm.run((tx) => addService(tx, admin, 'Sales tax'));
		await expect(firm.run((tx) => addService(tx, admin, 'monthly BOOKS'))).rejects.toMatchObject({ code: 'invalid' });
		await expect(firm.run((tx) => addService(tx, firm.odalys(), 'Payroll'))).rejects.toMatchObject({ code: 'not_allowed' });
		const write = (engagementId: string | null, services: string[]) =>
			firm.run((tx) => writeEngagement(tx, firm.odalys(), { clientId: client.id, engagementId, name: 'The books', beganOn: '2026-05-01', services }));
		await write(null, [books, tax, randomUUID()]);
		let [engagement] = await firm.run((tx) => readEngagements(tx, firm.odalys(), client.id));
		expect(engagement.services.map((s) => s.name)).toEqual(['Monthly books', 'Sales tax']);
		await write(engagement.id, [tax]);
		expect(await firm.run((tx) => readServiceUse(tx))).toEqual([
			{ id: books, name: 'Monthly books', fee: null, every: 'month', chasePlan: null, clients: 0 },
			{ id: tax, name: 'Sales tax', fee: null, every: 'month', chasePlan: null, clients: 1 }
		]);
		const end = (reopen: boolean) =>
			firm.run((tx) =>
				endEngagement(tx, firm.odalys(), { clientId: client.id, engagementId: engagement.id, reason: 'done', on: '2026-05-04', reopen })
			);
		await end(false);
		await expect(end(false)).rejects.toMatchObject({ code: 'changed_meanwhile' });
		await expect(write(engagement.id, [books])).rejects.toMatchObject({ code: 'changed_meanwhile' });
		expect((await firm.run((tx) => readServiceUse(tx))).map((s) => s.clients)).toEqual([0, 0]);
		await end(true);
		// a service that was taken off the list stays where it was chosen
		await firm.run((tx) => endService(tx, admin, tax));
		[engagement] = await firm.run((tx) => readEngagements(tx, firm.odalys(), client.id));
		expect(engagement).toMatchObject({ endedOn: null, services: [{ name: 'Sales tax' }] });
	});
	test('the record fills a letter: the newest running engagement, its services, the year end', async () => {
		const admin = { ...firm.odalys(), role: 'administrator' as const };
		const services = [await firm.run((tx) => addService(tx, admin, 'Monthly books')), await firm.run((tx) => addService(tx, admin, 'Sales tax'))];
		const values = () => firm.run((tx) => recordValues(tx, firm.odalys(), client.id, 'en'));
		expect(await values()).toEqual({});
		for (const [name, beganOn] of [
			['Old', '2025-01-01'],
			['New', '2026-05-01']
		])
			await firm.run((tx) => writeEngagement(tx, firm.odalys(), { clientId: client.id, engagementId: null, name, beganOn, services }));
		await firm.run((tx) => sayFact(tx, firm.odalys(), { clientId: client.id, name: 'year_end', value: '12-31' }));
		expect(await values()).toEqual({ start_date: '1 May 2026', services: 'monthly books and sales tax', year_end: '31 December' });
	});
	test('the client’s name and who looks after them follow into the list', async () => {
		await firm.run((tx) => changeClient(tx, firm.odalys(), client.id, { name: 'Kites & Co', kind: 'business', responsibleId: firm.partner.id! }));
		const { rows } = await context.owner.query('select name, responsible_id from client_summary where client_id = $1', [client.id]);
		expect(rows).toEqual([{ name: 'Kites & Co', responsible_id: firm.partner.id }]);
		expect((await verbs()).slice(-2)).toEqual(['client_renamed', 'client_handed_over']);
	});
});

describe('finding a client', () => {
	const find = (typed: string, who = firm) => who.run((tx) => findClients(tx, who.odalys(), typed, 8));

	test('by name, person, address, phone and tax number, and it says by what', async () => {
		await add({ name: 'Ødegaard, Siri', email: 'siri@harbour.example' });
		await firm.run((tx) => sayFact(tx, firm.odalys(), { clientId: client.id, name: 'tax_number', value: 'R-204-881' }));
		const by = async (typed: string) => (await find(typed)).map((found) => found.by);
		expect(await by('string ki')).toEqual([null]);
		expect(await by('ødeg')).toEqual([{ what: 'contact', text: 'Ødegaard, Siri' }]);
		expect(await by('siri@harb')).toEqual([{ what: 'email', text: 'siri@harbour.example' }]);
		expect(await by('(902) 555')).toEqual([{ what: 'phone', text: '+19025550134' }]);
		expect(await by('204-88')).toEqual([{ what: 'tax_number', text: 'R-204-881' }]);
		expect(await by('%')).toEqual([]);
		expect(await by('nobody')).toEqual([]);
	});
	test('a corrected tax number is not found by the old one', async () => {
		for (const value of ['A-1111', 'B-2222']) await firm.run((tx) => sayFact(tx, firm.odalys(), { clientId: client.id, name: 'tax_number', value }));
		expect(await find('A-1111')).toEqual([]);
		expect(await find('b-2222')).toHaveLength(1);
	});
	test('as people write: without accents, in any order, over several fields, with a slip of the finger', async () => {
		for (const name of [
			'Boulangerie Évangéline Thériault',
			'Quay Marine Repairs',
			'Ødegaard & Søn',
			'Saltgrass Bees Cooperative',
			'Groß und Töchter'
		])
			await makeClient(context, firm, { name });
		await add({ name: 'Thibodeau, Anaïs', email: 'anais@harbour.example' });
		const names = async (typed: string) => (await find(typed)).map((found) => found.name);
		for (const [typed, name] of [
			['evangeline', 'Boulangerie Évangéline Thériault'],
			['THERIAULT boulangerie', 'Boulangerie Évangéline Thériault'],
			['boul ther', 'Boulangerie Évangéline Thériault'],
			['odegaard son', 'Ødegaard & Søn'],
			['repairs quay', 'Quay Marine Repairs'],
			['gross tochter', 'Groß und Töchter'],
			// given and family name in either order, with and without the comma
			['anais thibodeau', 'Gull & String Kites'],
			['Thibodeau Anaïs', 'Gull & String Kites'],
			// the client's name and the person's
			['gull anais', 'Gull & String Kites'],
			['kites anais@harbour', 'Gull & String Kites'],
			// one letter wrong, one left out, two turned round
			['evangelime', 'Boulangerie Évangéline Thériault'],
			['saltgras', 'Saltgrass Bees Cooperative'],
			['saltgrass coperative', 'Saltgrass Bees Cooperative'],
			['thibodaeu', 'Gull & String Kites']
		])
			expect(await names(typed), typed).toEqual([name]);
		// what is written rightly is not mixed with what is nearly so
		await makeClient(context, firm, { name: 'Quail Marine' });
		expect(await names('quay')).toEqual(['Quay Marine Repairs']);
		expect(await names('gull thibodeau nobody')).toEqual([]);
		expect(await find('gull anais')).toMatchObject([{ by: { what: 'contact', text: 'Thibodeau, Anaïs' } }]);
		for (const hostile of ['\\', '%', '_', "'; --", '(((', 'a'.repeat(5000), ' '.repeat(300), '€ ½ \u0301', '\u0000'])
			await find(hostile.replace('\u0000', ''));
	});
	test('names that begin so come first, those who have left last', async () => {
		const ended = await makeClient(context, firm, { name: 'Kite ended' });
		await makeClient(context, firm, { name: 'A kite' });
		await makeClient(context, firm, { name: 'Kite shop' });
		await firm.run((tx) => moveClient(tx, firm.odalys(), { clientId: ended.id, move: 'end', reason: 'x' }));
		expect((await find('kite')).map((found) => found.name)).toEqual(['Kite shop', 'A kite', 'Gull & String Kites', 'Kite ended']);
	});
	test('while a name is typed: those that may be the same, with the reason', async () => {
		await makeClient(context, firm, { name: 'Brine & Barrow Oysters' });
		const like = async (name: string, who = firm) =>
			(await who.run((tx) => findLikelySame(tx, who.odalys(), name))).map((found) => `${found.name} ${found.why}`);
		expect(await like('gull and string kites ltd')).toEqual(['Gull & String Kites has the same name']);
		expect(await like('Brine & Barow Oyster')).toEqual(['Brine & Barrow Oysters has a similar name']);
		expect(await like('Harbour Light')).toEqual([]);
		expect(await like('G')).toEqual([]);
		expect(await like('Gull & String Kites', await makeFirm(context))).toEqual([]);
	});
	test('lines, requests and papers: by words of their title and their client, what is open first', async () => {
		const request = await sendRequest(
			context,
			firm.id,
			firm.odalys(),
			requestTo(client, [paperLine('Relevé de caisse', '2026-05-20'), paperLine('Lease of the shed', '2026-05-20')], { title: 'Year end 2025' })
		);
		const [releve, lease] = await itemsOf(context, request);
		const other = await makeClient(context, firm, { name: 'Tidewrack Salvage' });
		await sendRequest(
			context,
			firm.id,
			firm.odalys(),
			requestTo(other, [paperLine('Lease of the barge', '2026-05-20')], { title: 'Getting started' })
		);
		await context.owner.query(
			`insert into paper (id, firm_id, client_id, item_id, name, bytes, sha256, content_type, storage_key, uploaded_by_contact_id, uploaded_at)
			values (gen_random_uuid(), $1, $2, $3, 'shed-contract.pdf', 1, '', 'application/pdf', gen_random_uuid()::text, $4, $5)`,
			[firm.id, client.id, lease.id, client.contactId, context.clock.now()]
		);
		const found = async (typed: string) =>
			(await firm.run((tx) => findThings(tx, firm.odalys(), typed, 5))).map(({ kind, title, clientName }) => `${kind} ${title}, ${clientName}`);
		expect(await found('releve')).toEqual(['item Relevé de caisse, Gull & String Kites']);
		expect(await found('gull lease')).toEqual(['item Lease of the shed, Gull & String Kites']);
		expect(await found('year end')).toEqual(['request Year end 2025, Gull & String Kites']);
		// what the client has not handed in yet is theirs
		expect(await found('contract.pdf')).toEqual([]);
		await context.owner.query(`update item set state = 'handed_in' where id = $1`, [lease.id]);
		expect(await found('contract.pdf')).toEqual(['paper shed-contract.pdf, Gull & String Kites']);
		expect(await found('100% \\ _ lease')).toEqual([]);
		expect(await found('of')).toEqual([]);
		await context.owner.query(`update item set state = 'accepted' where id = $1`, [releve.id]);
		await context.owner.query(`update item set state = 'accepted', state_at = now() where id = $1`, [lease.id]);
		expect(await found('lease')).toEqual(['item Lease of the barge, Tidewrack Salvage', 'item Lease of the shed, Gull & String Kites']);
	});
	test('nothing of another firm, and nothing at all for a contact', async () => {
		const elsewhere = await makeFirm(context);
		expect(await find('kites', elsewhere)).toEqual([]);
		await expect(client.run((tx) => tx.rows(`select * from search_clients('%', '', 5)`))).rejects.toMatchObject({ code: '42501' });
		await expect(client.run((tx) => tx.rows(`select * from search_things('lease', 5)`))).rejects.toMatchObject({ code: '42501' });
	});
	test('without a word: what this person opened last', async () => {
		const other = await makeClient(context, firm, { name: 'Other' });
		for (const [id, at] of [
			[client.id, '2026-05-04T14:00:00Z'],
			[other.id, '2026-05-04T14:01:00Z'],
			[client.id, '2026-05-04T14:05:00Z']
		]) {
			context.clock.set(at);
			await firm.run((tx) => noteClientOpened(tx, firm.odalys(), id));
		}
		expect((await find(' ')).map((found) => found.name)).toEqual(['Gull & String Kites', 'Other']);
		expect(await firm.run((tx) => findClients(tx, firm.partner, '', 8))).toEqual([]);
	});
});

test('what came in before the client left can still be accepted', async () => {
	const [item] = await itemsOf(context, await sendRequest(context, firm.id, firm.odalys(), requestTo(client, [questionLine('Q', '2026-05-07')])));
	await client.run((tx) => answerItem(tx, client.mara(), { itemId: item.id, answer: 'x' }));
	await firm.run((tx) => moveClient(tx, firm.odalys(), { clientId: client.id, move: 'end', reason: 'x' }));
	expect((await firm.run(async (tx) => countRounds(tx, await loadFirm(tx), context.clock.now()))).handed_in).toBe(1);
	await firm.run((tx) => acceptItem(tx, firm.odalys(), { itemId: item.id, version: 2 }));
});
