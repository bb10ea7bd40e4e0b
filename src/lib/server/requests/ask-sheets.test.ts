import { randomUUID } from 'node:crypto';
import { beforeEach, expect, test } from 'vitest';
import { READY_MADE_LETTER } from '$lib/core/letters/ready-made-letter';
import { requestListSchema } from '$lib/core/requests/request-list';
import type { Actor } from '../actor';
import { sayFact } from '../clients/client-facts';
import { changeClientRights } from '../clients/client-rights';
import { readDraft, removeDrafts } from '../drafts/drafts';
import { loadFirm } from '../firms/firm';
import { addList } from '../library/request-lists';
import { asStaff } from '../platform/db/database';
import { makeClient, makeFirm } from '../testing/test-firm';
import { context, firm, useFirm } from '../testing/use-firm';
import { askManyFilterSchema, prepareForMany, proposeForMany, readBlankSheet, sendDraftsOfRun } from './ask-many';
import { chooseSheetColumns, forgetAskSheets, keepAskSheet, readOwnSheets, readSheet, readSheetResults, sheetResultsAsCsv } from './ask-sheets';

useFirm({ withClient: false });
const due = { from: 'asked', offset: 5, unit: 'business_days', roll: 'none' };
let listId: string;
beforeEach(async () => {
	const list = requestListSchema.parse({
		name: 'Letters of the year',
		title: 'Your letter',
		message: 'It costs {monthly_fee} from now on.',
		shared: 'all',
		lines: [{ key: 'letter', kind: 'letter', title: 'Engagement letter at {monthly_fee}', required: true, due, document: READY_MADE_LETTER }]
	});
	listId = await firm.run((tx) => addList(tx, firm.odalys(), list));
});
const bring = (csv: string, actor: Actor = firm.odalys()) =>
	keepAskSheet(context, firm.id, actor, { fileName: 'fees.csv', bytes: new TextEncoder().encode(csv) });
const filter = askManyFilterSchema.parse({});
const propose = (id: string, actor: Actor = firm.odalys()) =>
	asStaff(context.db, actor.id!).inFirm(firm.id, async (tx) =>
		proposeForMany(tx, actor, await loadFirm(tx), listId, filter, await readSheet(tx, actor, id))
	);
const make = (id: string, lines: number[], send = false, actor: Actor = firm.odalys()) =>
	firm.run((tx) => prepareForMany(tx, actor, { listId, filter, runId: id, send, sheet: { id, lines } }));
const results = (id: string) => firm.run(async (tx) => readSheetResults(tx, firm.odalys(), await readSheet(tx, firm.odalys(), id)));
const KNOWN = 'Start date,Services';
const known = '1 June 2026,bookkeeping';

test('each row is a request with its own words; what cannot be told is named by row; the result is by row, and follows what happens', async () => {
	const [gull, ferry, first, second] = [
		await makeClient(context, firm, { name: 'Gull' }),
		await makeClient(context, firm, { name: 'Ferry Café' }),
		await makeClient(context, firm, { name: 'Twin' }),
		await makeClient(context, firm, { name: 'Twin' })
	];
	const id = await bring(
		[
			`Client,E-mail,Monthly fee,${KNOWN},Colour`,
			`gull,,450 CAD,${known},red`,
			`,${ferry.email},300 CAD,${known},`,
			`Twin,${second.email},200 CAD,${known},`,
			`Twin,,200 CAD,${known},`,
			`Gull,${ferry.email},1 CAD,${known},`,
			`Gull,,99 CAD,${known},`,
			`Nobody Ltd,,1 CAD,${known},`,
			`Ferry Café,,,${known},`
		].join('\n')
	);
	const proposed = await propose(id);
	expect(proposed.map(({ line, clientId, contactId, stands, goes, lacks }) => [line, clientId, contactId, stands, goes, lacks])).toEqual([
		[2, gull.id, gull.contactId, null, 1, []],
		[3, ferry.id, ferry.contactId, null, 1, []],
		[4, second.id, second.contactId, null, 1, []],
		[5, null, null, 'several_clients', 0, []],
		[6, null, null, 'not_of_client', 0, []],
		[7, gull.id, gull.contactId, null, 1, []],
		[8, null, null, 'unknown_client', 0, []],
		[9, ferry.id, ferry.contactId, null, 1, ['Monthly fee']]
	]);
	expect(first.id).not.toBe(second.id);

	// pressed twice by one person it is made once; the row that was not chosen is not made
	expect(await Promise.all([make(id, [2, 3, 4, 9], true), make(id, [2, 3, 4, 9], true)])).toEqual([4, 4]);
	expect(await sendDraftsOfRun(context, firm.id, id, firm.coordinator.id!, context.clock.now())).toEqual({ sent: 3, left: 1 });
	expect((await results(id)).map(({ line, outcome, why, clientName }) => [line, clientName, outcome, why])).toEqual([
		[2, 'Gull', 'sent', null],
		[3, 'Ferry Café', 'sent', null],
		[4, 'Twin', 'sent', null],
		[5, null, 'stays', expect.stringContaining('several clients')],
		[6, null, 'stays', expect.stringContaining('nobody of this client')],
		[7, null, 'stays', 'not chosen'],
		[8, null, 'stays', 'no active client has this name'],
		[9, 'Ferry Café', 'problem', expect.stringContaining('Monthly fee')]
	]);
	const letters = await context.owner.query<{ client_id: string; text: string; title: string }>(
		`select l.client_id, l.document::text text, i.title from letter l join item i on i.id = l.item_id where l.firm_id = $1`,
		[firm.id]
	);
	const said = new Map(letters.rows.map(({ client_id, text, title }) => [client_id, { text, title }]));
	expect(said.get(gull.id)).toMatchObject({ title: 'Engagement letter at 450 CAD', text: expect.stringContaining('450 CAD') });
	expect(said.get(ferry.id)!.text).toContain('300 CAD');
	expect(said.get(ferry.id)!.text).not.toContain('450 CAD');
	expect(said.get(second.id)!.text).toContain('1 June 2026');
	const mails = await context.owner.query<{ body: string }>(`select content::text body from message where firm_id = $1`, [firm.id]);
	expect(mails.rows.filter(({ body }) => body.includes('It costs 450 CAD'))).toHaveLength(1);

	// the draft that lacked something keeps the rest of its row; thrown away, the result says so
	const left = (await results(id)).find(({ line }) => line === 9)!;
	expect((await firm.run((tx) => readDraft(tx, firm.odalys(), left.draftId!))).content.values).toEqual({
		start_date: '1 June 2026',
		services: 'bookkeeping'
	});
	await firm.run((tx) => removeDrafts(tx, firm.odalys(), [left.draftId!]));
	await context.owner.query(`update item set state = 'waived' where client_id = $1`, [gull.id]);
	expect((await results(id)).map(({ outcome }) => outcome)).toEqual(['settled', 'sent', 'sent', 'stays', 'stays', 'stays', 'stays', 'thrown_away']);
	const csv = await firm.run(async (tx) => sheetResultsAsCsv(tx, firm.odalys(), await readSheet(tx, firm.odalys(), id)));
	expect(csv.split('\r\n')[1]).toBe('gull,,450 CAD,1 June 2026,bookkeeping,red,"asked, and done",');

	// its rows are asked once
	await expect(firm.run((tx) => chooseSheetColumns(tx, firm.odalys(), id, [null, null, null, null, null, null]))).rejects.toMatchObject({
		code: 'changed_meanwhile'
	});
	expect(await make(id, [7])).toBe(4);
});

test('what no column says is as the record has it, also for clients that are chosen, and a cell goes before it', async () => {
	const gull = await makeClient(context, firm, { name: 'Gull' });
	await makeClient(context, firm, { name: 'Ferry' });
	await firm.run((tx) => sayFact(tx, firm.odalys(), { clientId: gull.id, name: 'year_end', value: '12-31' }));
	const list = requestListSchema.parse({
		name: 'Year',
		title: 'The year that ends on {year_end}',
		shared: 'all',
		lines: [{ key: 'a', kind: 'paper', title: 'Stock on {year_end}', required: true, due, spec: { slots: [] } }]
	});
	listId = await firm.run((tx) => addList(tx, firm.odalys(), list));
	const chosen = await firm.run(async (tx) => proposeForMany(tx, firm.odalys(), await loadFirm(tx), listId, filter));
	expect(chosen.map(({ clientName, lacks }) => [clientName, lacks])).toEqual([
		['Ferry', ['Year end']],
		['Gull', []]
	]);
	const { csv } = await firm.run(async (tx) => readBlankSheet(tx, firm.odalys(), await loadFirm(tx), listId));
	expect(csv).toContain('Client,E-mail,Year end\r\n');
	const id = await bring(csv.replace('Ferry,', '"Ferry",').replace(/(Ferry.*),\r\n/, '$1,30 June\r\n'));
	const rows = await propose(id);
	expect(rows.map(({ clientName, lacks, values }) => [clientName, lacks, Object.keys(values)])).toEqual([
		['Ferry', [], ['year_end']],
		['Gull', [], ['year_end']]
	]);
	expect(await make(id, [2, 3], true)).toBe(2);
	await sendDraftsOfRun(context, firm.id, id, firm.coordinator.id!, context.clock.now());
	const titles = await context.owner.query<{ title: string }>('select title from item where firm_id = $1 order by title', [firm.id]);
	expect(titles.rows.map(({ title }) => title)).toEqual(['Stock on 30 June', 'Stock on 31 December']);
});

test('a file is read by whoever brought it alone, and finds no client that is closed to them', async () => {
	const gull = await makeClient(context, firm, { name: 'Gull' });
	await firm.run((tx) => changeClientRights(tx, firm.odalys(), { clientId: gull.id, restricted: true, rights: [] }));
	const csv = `Client,E-mail,Monthly fee,${KNOWN}\nGull,,450 CAD,${known}\n,${gull.email},450 CAD,${known}\n`;
	const id = await bring(csv, firm.partner);
	expect((await propose(id, firm.partner)).map(({ stands, clientName }) => [stands, clientName])).toEqual([
		['unknown_client', 'Gull'],
		['unknown_email', gull.email]
	]);
	const walled = asStaff(context.db, firm.partner.id!);
	expect(await walled.inFirm(firm.id, async (tx) => (await readBlankSheet(tx, firm.partner, await loadFirm(tx), listId)).csv)).not.toContain('Gull');
	await expect(
		walled.inFirm(firm.id, (tx) => prepareForMany(tx, firm.partner, { listId, filter, runId: id, send: true, sheet: { id, lines: [2, 3] } }))
	).rejects.toMatchObject({ code: 'invalid' });
	const none = { code: 'not_found' };
	await expect(firm.run((tx) => readSheet(tx, firm.odalys(), id))).rejects.toMatchObject(none);
	await expect(firm.run((tx) => chooseSheetColumns(tx, firm.odalys(), id, [null, null, null, null, null]))).rejects.toMatchObject(none);
	await expect(make(id, [2])).rejects.toMatchObject(none);
	expect(await firm.run((tx) => readOwnSheets(tx, firm.odalys()))).toEqual([]);
	await expect(bring(csv, firm.filing)).rejects.toMatchObject({ code: 'not_allowed' });
	await expect(firm.run((tx) => readSheet(tx, firm.filing, id))).rejects.toMatchObject({ code: 'not_allowed' });
	const other = await makeFirm(context);
	await expect(other.run((tx) => readSheet(tx, other.odalys(), id))).rejects.toMatchObject(none);
	expect((await firm.run((tx) => readOwnSheets(tx, firm.partner))).map(({ fileName, rows, usedAt }) => [fileName, rows, usedAt])).toEqual([
		['fees.csv', 2, null]
	]);
});

test('what a column holds is said by a person, each kind once; two of the firm’s rows are asked at most once, and the file is forgotten later', async () => {
	await makeClient(context, firm, { name: 'Gull' });
	const id = await bring(`Whom,What,${KNOWN}\nGull,450 CAD,${known}\n`);
	const columns = ['client', 'monthly_fee', 'start_date', 'services'];
	expect((await propose(id))[0].stands).toBe('nobody');
	const choose = (chosen: (string | null)[]) => firm.run((tx) => chooseSheetColumns(tx, firm.odalys(), id, chosen));
	for (const bad of [['client', 'client', null, null], ['client'], ['client', 'today', null, null], ['client', 'password_hash', null, null]])
		await expect(choose(bad)).rejects.toMatchObject({ code: 'invalid' });
	await choose(columns);
	expect((await propose(id))[0]).toMatchObject({ stands: null, lacks: [], values: { monthly_fee: '450 CAD' } });
	await expect(make(id, [])).rejects.toMatchObject({ code: 'invalid' });
	await expect(make(randomUUID(), [2])).rejects.toMatchObject({ code: 'not_found' });
	expect(await make(id, [2, 3, 99])).toBe(1);
	const forget = (now: string) => firm.run((tx) => forgetAskSheets(tx, now));
	await forget('2026-07-02T12:00:00Z');
	expect(await results(id)).toHaveLength(1);
	await forget('2026-07-04T12:00:00Z');
	await expect(results(id)).rejects.toMatchObject({ code: 'not_found' });
});
