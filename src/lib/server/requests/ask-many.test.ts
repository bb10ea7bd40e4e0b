import { randomUUID } from 'node:crypto';
import { Readable } from 'node:stream';
import { afterAll, beforeAll, beforeEach, describe, expect, test } from 'vitest';
import { DEMO_LISTS } from '../../../../demo/lists';
import { requestListSchema } from '$lib/core/requests/request-list';
import { takeInAttachment } from '../attachments/attachments';
import { sayFact } from '../clients/client-facts';
import { loadFirm } from '../firms/firm';
import { addList, changeList, copyList, readList, readLists, readListVersions, removeList, restoreList } from '../library/request-lists';
import { writeAccount } from '../statements/accounts';
import {
	itemsOf,
	makeClient,
	makeFirm,
	openTestContext,
	paperLine,
	requestTo,
	sendPlanned,
	type TestFirm,
	type TestContext
} from '../testing/test-firm';
import { testPdf } from '../testing/test-pdf';
import { askManyFilterSchema, prepareForMany, proposeForMany, sendDraftsOfRun } from './ask-many';
import { readDrafts } from '../drafts/drafts';
import { sendRequest } from './send-request';
import { keepOverride } from './tailor-list';

let context: TestContext;
let firm: TestFirm;
let listId: string;
beforeAll(async () => (context = await openTestContext()));
afterAll(() => context.close());
const line = (title: string, condition: object | null = null) => ({
	kind: 'paper',
	key: title,
	title,
	required: true,
	due: { from: 'asked', offset: 5, unit: 'business_days', roll: 'none' },
	spec: { slots: [] },
	condition
});
const LIST = requestListSchema.parse({
	name: 'Month',
	title: 'Papers, please',
	shared: 'all',
	lines: [line('Statement'), line('Hours', { kind: 'fact', fact: 'payroll', is: 'equals', value: 'yes' })]
});
beforeEach(async () => {
	context.clock.set('2026-05-04T13:30:00Z');
	context.mailer.sent.length = 0;
	firm = await makeFirm(context);
	listId = await firm.run((tx) => addList(tx, firm.odalys(), LIST));
});
const filter = (more: object = {}) => askManyFilterSchema.parse({ ...more });
const propose = (more: object = {}) => firm.run(async (tx) => proposeForMany(tx, firm.odalys(), await loadFirm(tx), listId, filter(more)));
const prepare = (runId: string, send = false, more: object = {}) =>
	firm.run((tx) => prepareForMany(tx, firm.odalys(), { listId, filter: filter(more), runId, send }));

describe('one list for many clients', () => {
	test('each gets what fits; who cannot be asked is told apart; twice clicked it is made once', async () => {
		const pays = await makeClient(context, firm, { name: 'A pays wages' });
		await firm.run((tx) => sayFact(tx, firm.odalys(), { clientId: pays.id, name: 'payroll', value: 'yes' }));
		const alone = await makeClient(context, firm, { name: 'B alone' });
		await firm.run((tx) => sayFact(tx, firm.odalys(), { clientId: alone.id, name: 'payroll', value: 'no' }));
		const unknown = await makeClient(context, firm, { name: 'C not known' });
		const bounced = await makeClient(context, firm, { name: 'D bounced' });
		await context.owner.query(`update contact set mail_problem = 'bounced' where id = $1`, [bounced.contactId]);
		await firm.run((tx) => keepOverride(tx, firm.odalys(), { clientId: alone.id, listId, lineKey: 'Hours', decision: 'in' }));
		expect((await propose()).map((one) => [one.clientName, one.goes, one.out, one.missing, one.stands])).toEqual([
			['A pays wages', 2, 0, 0, null],
			['B alone', 2, 0, 0, null],
			['C not known', 2, 0, 1, null],
			['D bounced', 2, 0, 1, 'bounced']
		]);
		await firm.run((tx) => keepOverride(tx, firm.odalys(), { clientId: alone.id, listId, lineKey: 'Hours', decision: null }));
		const runId = randomUUID();
		expect(await Promise.all([prepare(runId), prepare(runId)])).toEqual([3, 3]);
		const drafts = await firm.run((tx) => readDrafts(tx, firm.odalys()));
		expect(drafts.map((draft) => [draft.clientName, draft.lines]).sort()).toEqual([
			['A pays wages', 2],
			['B alone', 1],
			['C not known', 2]
		]);
		expect((await propose()).map((one) => one.stands)).toEqual(
			['asked_already', 'asked_already', 'asked_already', 'asked_already'].map((s, i) => (i === 3 ? 'bounced' : s))
		);
		expect((await propose({ only: unknown.id })).map((line) => line.clientId)).toEqual([unknown.id]);
		// a choice that cannot be read is never taken for everybody
		await expect(propose({ only: 'everybody' })).rejects.toThrow();
		await expect(prepare(randomUUID())).rejects.toMatchObject({ code: 'invalid' });
		await expect(
			firm.run((tx) => prepareForMany(tx, { ...firm.odalys(), role: 'filing' }, { listId, filter: filter(), runId, send: false }))
		).rejects.toMatchObject({ code: 'not_allowed' });
	});
	test('a line that stands for statements gives one for each account of each client, and stays a line where none is known', async () => {
		const [rich, poor] = [await makeClient(context, firm, { name: 'Rich' }), await makeClient(context, firm, { name: 'Poor' })];
		for (const lastFour of ['1111', '2222'])
			await firm.run((tx) =>
				writeAccount(
					tx,
					firm.odalys(),
					rich.id,
					{ kind: 'bank', institution: 'Tideline', lastFour, currency: 'CAD', closingDay: 31, openedOn: null, closedOn: null },
					null
				)
			);
		const list = {
			...LIST,
			name: 'Statements',
			lines: requestListSchema.parse({ ...LIST, lines: [{ ...line('Bank statement'), spec: { statementsOf: 'bank' } }] }).lines
		};
		const statements = await firm.run((tx) => addList(tx, firm.odalys(), list));
		const runId = randomUUID();
		await firm.run((tx) => prepareForMany(tx, firm.odalys(), { listId: statements, filter: filter(), runId, send: true }));
		expect(await sendDraftsOfRun(context, firm.id, runId, firm.coordinator.id!, context.clock.now())).toEqual({ sent: 2, left: 0 });
		const asked = async (id: string) =>
			(
				await context.owner.query<{ title: string; to: string | null }>(
					'select title, period_to::text as to from item where client_id = $1 order by title',
					[id]
				)
			).rows;
		expect(await asked(rich.id)).toEqual([
			{ title: expect.stringContaining('1111'), to: '2026-04-30' },
			{ title: expect.stringContaining('2222'), to: '2026-04-30' }
		]);
		expect(await asked(poor.id)).toEqual([{ title: 'Bank statement', to: null }]);
	});
	test('the worker sends them; what cannot go stays and says why; begun again it goes on', async () => {
		const [one, two] = [await makeClient(context, firm, { name: 'One' }), await makeClient(context, firm, { name: 'Two' })];
		const runId = randomUUID();
		await prepare(runId, true);
		await context.owner.query(`update contact set mail_problem = 'bounced' where id = $1`, [two.contactId]);
		const send = () => sendDraftsOfRun(context, firm.id, runId, firm.coordinator.id!, context.clock.now());
		expect(await send()).toEqual({ sent: 1, left: 1 });
		expect(await send()).toEqual({ sent: 0, left: 1 });
		expect((await firm.run((tx) => readDrafts(tx, firm.odalys()))).map((draft) => [draft.clientName, draft.problem])).toEqual([
			['Two', expect.stringContaining('came back')]
		]);
		await context.owner.query(`update contact set mail_problem = null where id = $1`, [two.contactId]);
		expect(await send()).toEqual({ sent: 1, left: 0 });
		await sendPlanned(context, firm);
		expect(context.mailer.sent.map((mail) => mail.to.address).sort()).toEqual([one.email, two.email].sort());
	});
});

describe('lists of the Library', () => {
	const names = async (who = firm.odalys()) => (await firm.run((tx) => readLists(tx, who))).map((list) => list.name);
	test('a ready-made one is copied; a change keeps the version before, which can be brought back; what was sent stays', async () => {
		const copy = await firm.run((tx) => copyList(tx, firm.odalys(), { readyMade: 'month-close' }));
		const list = await firm.run((tx) => readList(tx, firm.odalys(), copy));
		const client = await makeClient(context, firm);
		const sent = await sendRequest(
			context,
			firm.id,
			firm.odalys(),
			requestTo(client, [paperLine('Statement', '2026-05-20')], { list: { id: copy, version: 1 } })
		);
		await firm.run((tx) => changeList(tx, firm.odalys(), copy, 1, { ...list, lines: list.lines.slice(0, 1) }));
		await expect(firm.run((tx) => changeList(tx, firm.partner, copy, 1, list))).rejects.toMatchObject({ code: 'changed_meanwhile' });
		expect((await firm.run((tx) => readListVersions(tx, copy))).map((version) => [version.version, version.lineCount])).toEqual([
			[1, list.lines.length]
		]);
		await firm.run((tx) => restoreList(tx, firm.odalys(), copy, 1, 2));
		expect(await firm.run((tx) => readList(tx, firm.odalys(), copy))).toMatchObject({ version: 3, lines: list.lines });
		expect((await context.owner.query('select list_version from request where id = $1', [sent])).rows).toEqual([{ list_version: 1 }]);
		await firm.run((tx) => removeList(tx, firm.odalys(), copy));
		expect(await names()).toEqual(['Month']);
		expect((await itemsOf(context, sent)).length).toBe(1);
	});
	test('shared with nobody, a list is its maker’s; another firm’s does not exist; filing reads and changes nothing', async () => {
		const own = await firm.run((tx) => addList(tx, firm.odalys(), { ...LIST, name: 'Mine', shared: 'person' }));
		expect(await names(firm.partner)).toEqual(['Month']);
		await expect(firm.run((tx) => readList(tx, firm.partner, own))).rejects.toMatchObject({ code: 'not_found' });
		const other = await makeFirm(context);
		await expect(other.run((tx) => readList(tx, other.odalys(), own))).rejects.toMatchObject({ code: 'not_found' });
		await expect(firm.run((tx) => removeList(tx, { ...firm.odalys(), role: 'filing' }, listId))).rejects.toMatchObject({ code: 'not_allowed' });
	});
	test('every ready-made list, and those of the demo, can be written as they are', async () => {
		const { READY_MADE_LISTS } = await import('$lib/core/requests/ready-made-lists');
		expect(READY_MADE_LISTS.length).toBeGreaterThanOrEqual(8);
		for (const list of [...READY_MADE_LISTS, ...Object.values(DEMO_LISTS)])
			expect(requestListSchema.safeParse({ shared: 'all', ...list }).error?.issues, list.name).toBeUndefined();
	});
});

describe('a list with a letter made of a PDF', () => {
	test('is a template: each of many gets a copy of their own, with the first of each in its first place', async () => {
		const file = await takeInAttachment(context, firm.id, firm.odalys(), {
			name: 'Terms.pdf',
			content: Readable.from([await testPdf([{ lines: [['Terms', 60, 700]] }])])
		});
		const place = { document: 0, page: 1, x: 60, y: 200, width: 190, height: 44, kind: 'signature' };
		listId = await firm.run((tx) =>
			addList(
				tx,
				firm.odalys(),
				requestListSchema.parse({
					name: 'Terms',
					title: 'Your terms',
					shared: 'all',
					lines: [
						{
							...line('Terms'),
							kind: 'letter',
							document: { type: 'doc', content: [{ type: 'paragraph' }] },
							spec: {
								signing: {
									documents: [{ id: file.id, name: 'Terms.pdf', pages: [{ width: 612, height: 792 }] }],
									signers: [
										{ key: 'a', who: { as: 'first' }, does: 'signs', rank: 1 },
										{ key: 'b', who: { as: 'firm', staffId: null }, does: 'signs', rank: 2 }
									],
									places: [
										{ ...place, id: 'one', of: 'a' },
										{ ...place, id: 'two', of: 'b', y: 300 }
									]
								}
							}
						}
					]
				})
			)
		);
		const clients = [await makeClient(context, firm, { name: 'A' }), await makeClient(context, firm, { name: 'B' })];
		const runId = randomUUID();
		await prepare(runId, true);
		expect(await sendDraftsOfRun(context, firm.id, runId, firm.coordinator.id!, context.clock.now())).toEqual({ sent: 2, left: 0 });
		const { rows } = await context.owner.query(
			`select s.name, s.state, s.contact_id, l.pages, l.places -> 0 ->> 'id' place from letter l join letter_signer s on s.letter_id = l.id where l.firm_id = $1 and s.side = 'client'`,
			[firm.id]
		);
		expect(rows.map(({ contact_id }) => contact_id).sort()).toEqual(clients.map(({ contactId }) => contactId).sort());
		expect(rows.map(({ state, pages, place }) => [state, pages, place])).toEqual([
			['asked', 1, 'one'],
			['asked', 1, 'one']
		]);
	});
});
