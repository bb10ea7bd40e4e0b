import { randomUUID } from 'node:crypto';
import { readdir } from 'node:fs/promises';
import { Readable } from 'node:stream';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { readHistory } from '../clients/read-clients';
import { takeInPaper, openPaper, removePaper } from '../papers/papers';
import {
	itemsOf,
	makeClient,
	makeFirm,
	openTestContext,
	letterLine,
	paperLine,
	questionLine,
	requestTo,
	sendPlanned,
	type TestClient,
	type TestFirm,
	type TestContext
} from '../testing/test-firm';
import { answerItem } from '../item-kinds/kinds/question';
import { confirmItem } from '../item-kinds/kinds/confirmed';
import { goOnWith, keepTyped, sayAlreadySent, sayDoesNotApply, seeItem } from '../items/client-item';
import { handInPapers } from '../item-kinds/kinds/paper';
import { fillInByPhone } from './fill-in';
import { acceptItem, changeItemPerson, moveDueDate, noteLooked, reopenItem, sendItemBack, waiveItem } from './judge-item';
import { readOwnItem } from '../items/read-items';
import { sayFact } from '../clients/client-facts';
import { sendRequest } from './send-request';

let context: TestContext;
let firm: TestFirm;
let client: TestClient;

beforeAll(async () => {
	context = await openTestContext();
	firm = await makeFirm(context);
	client = await makeClient(context, firm);
});
afterAll(() => context.close());

const pdf = () => Readable.from([Buffer.from('%PDF-1.7\n%âãÏÓ\n1 0 obj\n')]);
const send = async (...lines: Parameters<typeof requestTo>[1]) =>
	itemsOf(context, await sendRequest(context, firm.id, firm.odalys(), requestTo(client, lines)));
const take = (itemId: string, name: string, content: Readable, signal?: AbortSignal) =>
	takeInPaper(context, firm.id, client.mara(), { itemId, name, content, signal });
const stateOf = async (id: string) => (await context.owner.query('select * from item where id = $1', [id])).rows[0];
const storedFiles = async () => (await readdir(context.papersFolder, { recursive: true, withFileTypes: true })).filter((e) => e.isFile()).length;

describe('sending a request', () => {
	test('the same key sends once, also at the same moment', async () => {
		const input = requestTo(client, [paperLine('Lease', '2026-05-20')]);
		const ids = await Promise.all([1, 2, 3].map(() => sendRequest(context, firm.id, firm.odalys(), input)));
		expect(new Set(ids).size).toBe(1);
		const { rows } = await context.owner.query('select count(*)::int n from message where request_id = $1', [ids[0]]);
		expect(rows[0].n).toBe(1);
	});

	test('a due date in the past is refused, naming the line', async () => {
		await expect(
			sendRequest(context, firm.id, firm.odalys(), requestTo(client, [paperLine('A', '2026-05-04'), paperLine('B', '2026-05-03')]))
		).rejects.toMatchObject({
			code: 'invalid',
			fields: { 'lines.1.dueOn': expect.any(String) }
		});
	});

	test('an unfilled field of the letter stops it by name, and leaves no file behind', async () => {
		const before = await storedFiles();
		const letter = letterLine('Letter', '2026-05-20', { services: 'books' });
		await expect(sendRequest(context, firm.id, firm.odalys(), requestTo(client, [letter]))).rejects.toThrow('Start date, Monthly fee');
		expect(await storedFiles()).toBe(before);
	});

	test('an unknown field in the message stops it too', async () => {
		await expect(
			sendRequest(context, firm.id, firm.odalys(), requestTo(client, [paperLine('A', '2026-05-20')], { message: 'Dear {nick_name}' }))
		).rejects.toThrow('Nick name');
	});

	test('what the record knows and clients may see stands in the message, as each person reads it; a secret does not', async () => {
		const of = await makeClient(context, firm, { name: 'Saltglass Studio' });
		const message = 'Your year ends on {year_end}, {contact_first_name}. {tax_number}';
		const send = (words: string) =>
			sendRequest(context, firm.id, firm.odalys(), { ...requestTo(of, [paperLine('Lease', '2026-05-20')]), message: words, quiet: false });
		await expect(send(message)).rejects.toMatchObject({ code: 'unfilled_fields', message: expect.stringContaining('Year end, Tax number') });
		await firm.run((tx) => sayFact(tx, firm.odalys(), { clientId: of.id, name: 'year_end', value: '06-30' }));
		await firm.run((tx) => sayFact(tx, firm.odalys(), { clientId: of.id, name: 'tax_number', value: '123456782' }));
		await context.owner.query(`update fact_definition set secret = true where firm_id = $1 and name = 'tax_number'`, [firm.id]);
		await expect(send(message)).rejects.toMatchObject({ message: expect.stringContaining('for: Tax number') });
		await send(message.replace(' {tax_number}', ''));
		await sendPlanned(context, firm);
		expect(context.mailer.sent.at(-1)!.text).toContain('Your year ends on 30 June, Mara.');
	});
	test('fields are put into the titles of its lines too; one that is unfilled is named once', async () => {
		const line = (title: string) => ({ ...paperLine(title, '2026-05-20') });
		const [item] = await send(line('Lease of {client_name}'));
		expect(await stateOf(item.id)).toMatchObject({ title: 'Lease of Gull & String Kites' });
		await expect(send(line('Papers of {period}'), line('More of {period}'))).rejects.toThrow(/nothing to put in for: period\.$/i);
	});

	test('a letter with a character no font has is refused in words', async () => {
		const document = { type: 'doc' as const, content: [{ type: 'paragraph' as const, content: [{ type: 'text' as const, text: 'Dear 🪁' }] }] };
		const letter = letterLine('Letter', '2026-05-20', {}, document);
		await expect(sendRequest(context, firm.id, firm.odalys(), requestTo(client, [letter]))).rejects.toMatchObject({
			code: 'invalid',
			message: expect.stringContaining('🪁')
		});
	});

	test('somebody without access needs the invitation along, in one message', async () => {
		const newcomer = await makeClient(context, firm, { access: false });
		await expect(sendRequest(context, firm.id, firm.odalys(), requestTo(newcomer, [paperLine('A', '2026-05-20')]))).rejects.toMatchObject({
			fields: { withInvitation: expect.any(String) }
		});
		await sendRequest(context, firm.id, firm.odalys(), requestTo(newcomer, [paperLine('A', '2026-05-20')], { withInvitation: true }));
		const { rows } = await context.owner.query('select kind from message where contact_id = $1', [newcomer.contactId]);
		expect(rows).toEqual([{ kind: 'request' }]);
		const invitations = await context.owner.query('select 1 from invitation where contact_id = $1', [newcomer.contactId]);
		expect(invitations.rowCount).toBe(1);
	});

	test('whoever is suspended cannot be asked, nor be sent a draft', async () => {
		const gone = await makeClient(context, firm);
		await context.owner.query('update contact set suspended_at = now() where id = $1', [gone.contactId]);
		const send = (more: object = {}) => sendRequest(context, firm.id, firm.odalys(), requestTo(gone, [paperLine('Lease', '2026-05-20')], more));
		await expect(send()).rejects.toThrow('Mara Whitlock is suspended');
		await expect(send({ quiet: true })).rejects.toMatchObject({ code: 'invalid' });
		expect((await context.owner.query('select 1 from request where client_id = $1', [gone.id])).rowCount).toBe(0);
	});
	test('a contact of another client, and a role that may not, are refused', async () => {
		const other = await makeClient(context, firm);
		await expect(
			sendRequest(context, firm.id, firm.odalys(), requestTo(client, [paperLine('A', '2026-05-20')], { contactId: other.contactId }))
		).rejects.toMatchObject({ code: 'not_found' });
		await expect(sendRequest(context, firm.id, firm.filing, requestTo(client, [paperLine('A', '2026-05-20')]))).rejects.toMatchObject({
			code: 'not_allowed'
		});
	});
});

describe('an item from asked to settled', () => {
	test('seen, draft kept, answered, sent back with mail in the thread, answered again, accepted; history complete and in order', async () => {
		const other = await makeClient(context, firm);
		const asOther = <T>(work: Parameters<TestContext['db']['inFirm']>[1]) => context.db.inFirm(firm.id, work, other.contactId) as Promise<T>;
		const requestId = await sendRequest(context, firm.id, firm.odalys(), requestTo(other, [questionLine('Anyone employed?', '2026-05-20')]));
		const [{ id }] = await itemsOf(context, requestId);
		await asOther((tx) => seeItem(tx, other.mara(), id));
		await asOther((tx) => keepTyped(tx, other.mara(), { itemId: id, device: 'phone', since: null, fields: { 'answer.answer': 'Two peo' } }));
		expect(await stateOf(id)).toMatchObject({ state: 'started', answer: null });
		await asOther((tx) => answerItem(tx, other.mara(), { itemId: id, answer: 'Two people' }));
		let item = await stateOf(id);
		expect(item.next_chase_on).toBeNull();
		await firm.run((tx) => sendItemBack(tx, firm.odalys(), { itemId: id, version: item.version, reason: 'Since when?' }));
		item = await stateOf(id);
		expect(item).toMatchObject({ state: 'sent_back', reason: 'Since when?' });
		expect(item.next_chase_on).not.toBeNull();
		const mails = await context.owner.query('select kind, message_id, thread_id from message where contact_id = $1 order by planned_at, kind', [
			other.contactId
		]);
		expect(mails.rows.map((m) => m.kind)).toEqual(['request', 'sent_back']);
		expect(mails.rows[1].thread_id).toBe(mails.rows[0].message_id);
		await asOther((tx) => answerItem(tx, other.mara(), { itemId: id, answer: 'Since March' }));
		item = await stateOf(id);
		await firm.run((tx) => acceptItem(tx, firm.odalys(), { itemId: id, version: item.version }));
		const history = await firm.run((tx) => readHistory(tx, firm.odalys(), other.id, null, 50));
		expect(history.map((e) => e.verb).reverse()).toEqual([
			'client_added',
			'request_sent',
			'item_seen',
			'item_started',
			'item_handed_in',
			'item_sent_back',
			'item_handed_in',
			'item_accepted'
		]);
	});

	test('the later of two coordinators is told who was faster, and nothing changes', async () => {
		const [{ id }] = await send(questionLine('Q', '2026-05-20'));
		await client.run((tx) => answerItem(tx, client.mara(), { itemId: id, answer: 'yes' }));
		const { version } = await stateOf(id);
		const results = await Promise.allSettled([
			firm.run((tx) => acceptItem(tx, firm.odalys(), { itemId: id, version })),
			firm.run((tx) => sendItemBack(tx, firm.partner, { itemId: id, version, reason: 'No' }))
		]);
		expect(results.map((r) => r.status).sort()).toEqual(['fulfilled', 'rejected']);
		const refused = results.find((r) => r.status === 'rejected') as PromiseRejectedResult;
		expect(refused.reason).toMatchObject({
			code: 'changed_meanwhile',
			message: expect.stringMatching(/(Odalys Fenwick|Ferrin Ashgrove) was faster/)
		});
	});

	test('waive and ask again; what does not apply is confirmed', async () => {
		const [a, b] = await send(paperLine('A', '2026-05-20'), paperLine('B', '2026-05-20'));
		await firm.run((tx) => waiveItem(tx, firm.odalys(), { itemId: a.id, version: 1 }));
		await firm.run((tx) => reopenItem(tx, firm.odalys(), { itemId: a.id, version: 2 }));
		expect((await stateOf(a.id)).state).toBe('asked');
		await client.run((tx) => sayDoesNotApply(tx, client.mara(), { itemId: b.id, reason: 'No lease' }));
		await expect(firm.run((tx) => acceptItem(tx, firm.odalys(), { itemId: b.id, version: 2 }))).rejects.toMatchObject({ code: 'changed_meanwhile' });
		await firm.run((tx) => waiveItem(tx, firm.odalys(), { itemId: b.id, version: 2 }));
		expect((await stateOf(b.id)).state).toBe('waived');
	});

	test('a moved due date plans the chases anew, never into the past', async () => {
		const [{ id }] = await send(paperLine('A', '2026-05-20'));
		await expect(firm.run((tx) => moveDueDate(tx, firm.odalys(), { itemId: id, version: 1, dueOn: '2026-05-03' }))).rejects.toMatchObject({
			code: 'invalid'
		});
		await firm.run((tx) => moveDueDate(tx, firm.odalys(), { itemId: id, version: 1, dueOn: '2026-06-12' }));
		expect(await stateOf(id)).toMatchObject({ due_on: '2026-06-12', next_chase_on: '2026-06-10', version: 2 });
	});
});

describe('papers', () => {
	test('are streamed, hashed, named safely, handed in, opened with a record', async () => {
		const [{ id }] = await send(paperLine('A', '2026-05-20'));
		const paper = await take(id, '../../etc/Lease\u202efdp.pdf', pdf());
		expect(paper).toMatchObject({ name: 'Leasefdp.pdf', contentType: 'application/pdf' });
		await client.run((tx) => handInPapers(tx, client.mara(), { itemId: id, without: false }));
		await expect(client.run((tx) => removePaper(tx, client.mara(), { itemId: id, paperId: paper.id }))).rejects.toMatchObject({
			code: 'changed_meanwhile'
		});
		await expect(take(id, 'late.pdf', pdf())).rejects.toMatchObject({ code: 'changed_meanwhile' });
		await firm.run((tx) => openPaper(tx, firm.odalys(), paper.id, 'download'));
		const { rows } = await context.owner.query(`select verb, actor_name from event where paper_id = $1 order by id`, [paper.id]);
		expect(rows).toEqual([
			{ verb: 'paper_added', actor_name: 'Mara Whitlock' },
			{ verb: 'paper_downloaded', actor_name: 'Odalys Fenwick' }
		]);
	});

	test.each([
		['a page of HTML', '<html><script>alert(1)</script>', 'unreadable_file'],
		['an SVG', '<svg xmlns="http://www.w3.org/2000/svg"/>', 'unreadable_file'],
		['a program', 'MZ\u0090\u0000\u0003', 'unreadable_file'],
		['nothing', '', 'unreadable_file']
	])('%s is refused and leaves nothing behind', async (_, content, code) => {
		const [{ id }] = await send(paperLine('A', '2026-05-20'));
		const before = await storedFiles();
		await expect(take(id, 'statement.pdf', Readable.from([Buffer.from(content, 'latin1')]))).rejects.toMatchObject({ code });
		expect(await storedFiles()).toBe(before);
		expect((await stateOf(id)).state).toBe('asked');
	});

	test('are kept under a name that fits what they are, so that nothing runs where they are opened', async () => {
		const [{ id }] = await send(paperLine('A', '2026-05-20'));
		const zip = Buffer.from('504b0304140000000000', 'hex');
		for (const [name, content, kept] of [
			['run.bat', 'del *.*', { name: 'run.bat.txt', contentType: 'text/plain' }],
			['umsatz.csv', Buffer.from('Empf\u00e4nger;-1,00', 'latin1'), { name: 'umsatz.csv', contentType: 'text/plain' }],
			['books.xlsx', zip, { name: 'books.xlsx', contentType: expect.stringContaining('spreadsheetml') }]
		] as const)
			expect(await take(id, name, Readable.from([Buffer.from(content)]))).toMatchObject(kept);
	});

	test('a connection lost in the middle leaves nothing, and trying again works', async () => {
		const [{ id }] = await send(paperLine('A', '2026-05-20'));
		const before = await storedFiles();
		const broken = new Readable({
			read() {
				this.push(Buffer.alloc(70_000, 1));
				this.destroy(Object.assign(new Error('gone'), { code: 'ECONNRESET' }));
			}
		});
		await expect(take(id, 'a.pdf', broken)).rejects.toMatchObject({ code: 'ECONNRESET' });
		expect(await storedFiles()).toBe(before);
		await expect(take(id, 'a.pdf', pdf())).resolves.toMatchObject({ name: 'a.pdf' });
	});

	test('larger than allowed stops while it streams', async () => {
		await expect(context.papers.put(Readable.from([Buffer.alloc(600), Buffer.alloc(600)]), 1000)).rejects.toMatchObject({ code: 'too_many' });
	});

	test('a full disk is told as such', async () => {
		const full = new Readable({
			read() {
				this.destroy(Object.assign(new Error('no space'), { code: 'ENOSPC' }));
			}
		});
		await expect(context.papers.put(full, 1000)).rejects.toMatchObject({ code: 'storage_full' });
	});

	test('go to the file that was asked for by name, if they are of its kind', async () => {
		const slots = [
			{ name: 'Front', accepts: 'picture' as const },
			{ name: 'Figures', accepts: 'sheet' as const }
		];
		const [{ id }] = await send({ ...paperLine('Licence', '2026-05-20'), kind: 'paper', spec: { slots, statementsOf: 'none' } } as ReturnType<
			typeof paperLine
		>);
		const png = () => Readable.from([Buffer.from('89504e470d0a1a0a0000000d49484452', 'hex')]);
		const into = (slot: string, name: string, content: Readable) => takeInPaper(context, firm.id, client.mara(), { itemId: id, name, content, slot });
		const before = await storedFiles();
		await expect(into('Front', 'licence.pdf', pdf())).rejects.toThrow('wrong.paper.slot');
		await expect(into('Figures', 'x.png', png())).rejects.toMatchObject({ code: 'unreadable_file' });
		expect(await storedFiles()).toBe(before);
		expect(await into('Front', 'licence.png', png())).toMatchObject({ slot: 'Front' });
		expect(await into('Figures', 'a.csv', Readable.from([Buffer.from('a;b')]))).toMatchObject({ slot: 'Figures' });
		// a name that nobody asked for is no place: the file is there all the same
		expect(await into('Back', 'back.pdf', pdf())).toMatchObject({ slot: null });
	});

	test('are taken out again before they are handed in, once, with a record; at most sixty of them', async () => {
		const [{ id }] = await send(paperLine('A', '2026-05-20'));
		const paper = await take(id, 'wrong one.pdf', pdf());
		const remove = () => client.run((tx) => removePaper(tx, client.mara(), { itemId: id, paperId: paper.id }));
		await remove();
		await remove();
		const { rows } = await context.owner.query(`select details from event where verb = 'paper_removed' and paper_id = $1`, [paper.id]);
		expect(rows).toEqual([{ details: { name: 'wrong one.pdf', title: 'A' } }]);
		await expect(firm.run((tx) => openPaper(tx, firm.odalys(), paper.id, 'look'))).rejects.toMatchObject({ code: 'not_found' });
		await context.owner.query(
			`insert into paper (id, firm_id, client_id, item_id, name, bytes, sha256, content_type, storage_key, uploaded_by_contact_id, uploaded_at)
			select gen_random_uuid(), firm_id, client_id, item_id, 'n', bytes, sha256, content_type, gen_random_uuid(), uploaded_by_contact_id, uploaded_at from paper, generate_series(1, 60) where id = $1`,
			[paper.id]
		);
		await expect(take(id, 'one more.pdf', pdf())).rejects.toMatchObject({ code: 'too_many' });
	});

	test('until somebody of the firm has looked, what was handed in can be gone on with; it is not reminded of on that day', async () => {
		const [{ id }] = await send(paperLine('A', '2026-05-20'));
		await take(id, 'a.pdf', pdf());
		await client.run((tx) => handInPapers(tx, client.mara(), { itemId: id, without: false }));
		expect(await client.run((tx) => readOwnItem(tx, client.mara(), id))).toMatchObject({ mayGoOn: true });
		await client.run((tx) => goOnWith(tx, client.mara(), id));
		await take(id, 'b.pdf', pdf());
		await client.run((tx) => handInPapers(tx, client.mara(), { itemId: id, without: false }));
		expect(await stateOf(id)).toMatchObject({ state: 'handed_in' });
		await firm.run((tx) => noteLooked(tx, firm.odalys(), id));
		expect(await client.run((tx) => readOwnItem(tx, client.mara(), id))).toMatchObject({ mayGoOn: false });
		await expect(client.run((tx) => goOnWith(tx, client.mara(), id))).rejects.toMatchObject({ code: 'changed_meanwhile' });
	});

	test('named files that are missing are named, and the rest goes in only knowingly', async () => {
		const slots = ['Front', 'Back'].map((name) => ({ name, accepts: 'any' as const }));
		const [{ id }] = await send({ ...paperLine('Licence', '2026-05-20'), spec: { slots, statementsOf: 'none' } } as ReturnType<typeof paperLine>);
		await takeInPaper(context, firm.id, client.mara(), { itemId: id, name: 'f.pdf', content: pdf(), slot: 'Front' });
		await expect(client.run((tx) => handInPapers(tx, client.mara(), { itemId: id, without: false }))).rejects.toMatchObject({
			what: { values: { names: 'Back' } }
		});
		await client.run((tx) => handInPapers(tx, client.mara(), { itemId: id, without: true }));
		expect(await stateOf(id)).toMatchObject({ state: 'handed_in' });
	});

	test('what was sent another way comes back in the client’s own words', async () => {
		const [{ id }] = await send(paperLine('A', '2026-05-20'));
		await client.run((tx) => sayAlreadySent(tx, client.mara(), { itemId: id, reason: 'by post on Friday' }));
		expect(await client.run((tx) => readOwnItem(tx, client.mara(), id))).toMatchObject({ state: 'handed_in', reason: 'by post on Friday' });
	});

	test('handing in without a file is refused', async () => {
		const [{ id }] = await send(paperLine('A', '2026-05-20'));
		await expect(client.run((tx) => handInPapers(tx, client.mara(), { itemId: id, without: false }))).rejects.toMatchObject({ code: 'invalid' });
	});
});

test('a letter is answered by signing or declining, and judged by countersigning: nothing else moves it', async () => {
	const [{ id }] = await send(letterLine('Letter', '2026-05-20', { start_date: '1 June 2026', services: 'the books', monthly_fee: '$280' }));
	const of = { itemId: id, version: 1 };
	const refused = [
		firm.run((tx) => acceptItem(tx, firm.odalys(), of)),
		firm.run((tx) => sendItemBack(tx, firm.odalys(), { ...of, reason: 'No.' })),
		firm.run((tx) => reopenItem(tx, firm.odalys(), of)),
		firm.run((tx) => changeItemPerson(tx, firm.odalys(), { ...of, contactId: client.contactId })),
		firm.run((tx) => fillInByPhone(tx, firm.odalys(), { ...of, typed: {} })),
		client.run((tx) => sayDoesNotApply(tx, client.mara(), { itemId: id, reason: 'No.' })),
		client.run((tx) => sayAlreadySent(tx, client.mara(), { itemId: id, reason: 'by post' })),
		client.run((tx) => answerItem(tx, client.mara(), { itemId: id, answer: 'yes' })),
		client.run((tx) => confirmItem(tx, client.mara(), id)),
		client.run((tx) => handInPapers(tx, client.mara(), { itemId: id, without: false }))
	];
	for (const attempt of await Promise.allSettled(refused)) expect(attempt).toMatchObject({ status: 'rejected', reason: { code: 'invalid' } });
	expect(await stateOf(id)).toMatchObject({ state: 'asked', version: 1 });
});

test('the position of a client follows every item, whatever is changed at once', async () => {
	const other = await makeClient(context, firm);
	await sendRequest(
		context,
		firm.id,
		firm.odalys(),
		requestTo(other, [paperLine('A', '2026-05-12'), paperLine('B', '2026-05-11'), questionLine('C', '2026-05-20')], { idempotencyKey: randomUUID() })
	);
	const position = async () =>
		(
			await context.owner.query(
				'select items, open, to_look_at, earliest_open_due, next_chase_on, tick_letters from client_summary where client_id = $1',
				[other.id]
			)
		).rows[0];
	expect(await position()).toEqual({
		items: 3,
		open: 3,
		to_look_at: 0,
		earliest_open_due: '2026-05-11',
		next_chase_on: '2026-05-07',
		tick_letters: 'aaa'
	});
	const { rows } = await context.owner.query(`select id from item where client_id = $1 and title = 'B'`, [other.id]);
	await firm.run((tx) => waiveItem(tx, firm.odalys(), { itemId: rows[0].id, version: 1 }));
	expect(await position()).toMatchObject({ open: 2, earliest_open_due: '2026-05-12', tick_letters: 'waa' });
});
