import { firmFacts, READY_MADE_FACTS } from '$lib/core/facts/fact-definition';
import { randomUUID } from 'node:crypto';
import { afterAll, beforeAll, beforeEach, describe, expect, test } from 'vitest';
import { readClientFile } from '$lib/core/clients/import/read-file';
import type { Actor } from '../../actor';
import { asStaff } from '../../platform/db/database';
import { changeClientRights } from '../client-rights';
import { readFacts, sayFact } from '../client-facts';
import { writeNote } from '../../talk/notes';
import { findClients } from '../find-clients';
import { countClients, readClient, readClients } from '../read-clients';
import { addService } from '../../firms/services';
import { loadFirm } from '../../firms/firm';
import { countRounds } from '../../rounds/read-rounds';
import { makeClient, makeFirm, openTestContext, type TestFirm, type TestContext } from '../../testing/test-firm';
import { exportClientsCsv, exportMistakes, exportPeopleCards } from './export-clients';
import { beginImport, changeImport, leaveImport, planImportNow, readImport, readImportRows, readImports, type ImportChange } from './prepare-import';
import { runImport, startImport, stopImport } from './run-import';
import { nameOutsideSigner } from '../../letters/outside-signers';
import { undoImport } from './undo-import';

let context: TestContext;
let firm: TestFirm;
let actor: Actor;
beforeAll(async () => {
	context = await openTestContext();
});
afterAll(() => context.close());
beforeEach(async () => {
	firm = await makeFirm(context);
	actor = firm.odalys();
});

const begin = (text: string, by = actor) => beginImport(context, firm.id, by, { fileName: 'list.csv', bytes: new TextEncoder().encode(text) });
const change = (id: string, what: ImportChange) => changeImport(context, firm.id, actor, id, what);
const counts = async (id: string) => (await firm.run((tx) => readImport(tx, actor, id))).counts;
const start = (id: string) => firm.run((tx) => startImport(tx, actor, id));
const run = (id: string) => runImport(context, firm.id, id, actor.id!, context.clock.now());
const bringIn = async (text: string) => {
	const id = await begin(text);
	await start(id);
	await run(id);
	return id;
};
const list = () =>
	firm.run(async (tx) => readClients(tx, actor, await loadFirm(tx), { order: 'name', search: null, responsibleId: null, after: null }, 50));
const clientNamed = async (name: string) => {
	const { rows } = await context.owner.query<{ id: string }>('select id from client where firm_id = $1 and name = $2', [firm.id, name]);
	return firm.run((tx) => readClient(tx, actor, rows[0].id));
};

test('a list comes in whole: clients, people in their order, facts, services, history', async () => {
	await firm.run((tx) => addService(tx, { ...actor, role: 'administrator' }, 'Payroll'));
	await bringIn(
		[
			'Client,Contact,E-mail,Phone,Role,Tax number,Services,Employees',
			'Brine & Barrow,Wren Tolley,wren@brine.example,902 555 0190,owner,B-1,Payroll,3',
			'Brine & Barrow,Tam Osei,,902 555 0191,office,,,',
			'Midnight Bakery,,,,,M-2,,'
		].join('\n')
	);
	expect((await list()).map((line) => line.name)).toEqual(['Brine & Barrow', 'Midnight Bakery']);
	const brine = await clientNamed('Brine & Barrow');
	expect(brine.contacts.map(({ name, email, phone, role, mailProblem }) => ({ name, email, phone, role, mailProblem }))).toEqual([
		{ name: 'Wren Tolley', email: 'wren@brine.example', phone: '+19025550190', role: 'owner', mailProblem: null },
		{ name: 'Tam Osei', email: null, phone: '+19025550191', role: 'office', mailProblem: 'no_address' }
	]);
	expect(Object.fromEntries((await firm.run((tx) => readFacts(tx, actor, brine.id))).map((f) => [f.name, f.value]))).toEqual({
		tax_number: 'B-1',
		employees: '3'
	});
	const { rows } = await context.owner.query(
		`select s.name from engagement_service es join service s on s.id = es.service_id where es.client_id = $1`,
		[brine.id]
	);
	expect(rows).toEqual([{ name: 'Payroll' }]);
	const { rows: history } = await context.owner.query(`select verb, actor_name from event where client_id = $1 order by id`, [brine.id]);
	expect(history).toEqual([
		{ verb: 'client_imported', actor_name: 'Odalys Fenwick' },
		{ verb: 'client_changed_by_list', actor_name: 'Odalys Fenwick' }
	]);
	// who cannot be written to is counted, in Rounds and on the list
	expect((await firm.run(async (tx) => countRounds(tx, await loadFirm(tx), context.clock.now()))).no_address).toBe(1);
	expect((await firm.run(async (tx) => countClients(tx, await loadFirm(tx), context.clock.now()))).noAddress).toBe(1);
	// a client that was brought in is found like any other
	expect((await firm.run((tx) => findClients(tx, actor, 'barrow', 5))).map((c) => c.name)).toEqual(['Brine & Barrow']);
});

test('what was exported and is brought in again changes nothing, hostile cells included', async () => {
	await firm.run((tx) => addService(tx, { ...actor, role: 'administrator' }, 'Payroll'));
	await bringIn(
		[
			'Client,Contact,E-mail,Phone,Address,Services,Year end,Runs payroll',
			'"=cmd|\'/c calc\'!A0",Wren,wren@b.example,+44 20 7946 0018,"1 Quay\nGullhaven",Payroll,12-31,yes',
			'-Minus & Söhne,@Tam,,,,,,',
			"'Quoted,'=Odd,odd@b.example,,,,,no"
		].join('\n')
	);
	const csv = await firm.run((tx) => exportClientsCsv(tx, actor));
	expect(csv).toContain(`"'=cmd|'/c calc'!A0",`);
	for (const row of readClientFile(new TextEncoder().encode(csv), firmFacts(READY_MADE_FACTS)).rows) expect(row.cells).toHaveLength(22);
	const again = await begin(csv);
	expect(await counts(again)).toMatchObject({ same: 3, create: 0, update: 0, wrong: 0, ask: 0 });
	await expect(start(again)).rejects.toMatchObject({ code: 'invalid' });
});

test('each person reads in the language of their row, else in that of the firm’s clients; undone, as before', async () => {
	await firm.run((tx) => tx.rows(`update firm set client_language = 'fr' where id = $1`, [firm.id]));
	const rows = [
		'Client,Contact,E-mail,Language',
		'A Ltd,Wren,wren@a.example,English',
		'B Ltd,Otis,otis@b.example,',
		'C Ltd,Inez,inez@c.example,Klingon'
	];
	expect(await counts(await begin(rows.join('\n')))).toMatchObject({ create: 2, wrong: 1 });
	await bringIn(rows.slice(0, 3).join('\n'));
	const languages = async () =>
		(
			await firm.run((tx) =>
				tx.rows<{ name: string; locale: string }>('select name, locale from contact where firm_id = $1 order by name', [firm.id])
			)
		).map((c) => `${c.name} ${c.locale}`);
	expect(await languages()).toEqual(expect.arrayContaining(['Otis fr', 'Wren en']));
	const second = await bringIn('Client,Contact,E-mail,Language\nA Ltd,Wren,wren@a.example,français');
	expect(await languages()).toContain('Wren fr');
	await firm.run((tx) => undoImport(tx, actor, second));
	expect(await languages()).toContain('Wren en');
});

test('people leave as cards that come back as the same people', async () => {
	await bringIn(
		'Client,Contact,E-mail,Phone,Role\n"Brine, Barrow; Co",Wren Tolley,wren@b.example,902 555 0190,owner\nOtis Vane,Otis Vane,o@v.example,,\n'
	);
	const cards = await firm.run((tx) => exportPeopleCards(tx, actor));
	expect(cards.match(/BEGIN:VCARD/g)).toHaveLength(2);
	expect(await counts(await begin(cards))).toMatchObject({ same: 2, create: 0, update: 0, wrong: 0 });
});

test('mistakes are put right in place, told as a file, or left out; then the list goes', async () => {
	const id = await begin('Client,Contact,E-mail\nA,Wren,not an address\nB,Tam,=also@wrong\nC,Una,una@c.example\n');
	expect(await counts(id)).toMatchObject({ wrong: 2, create: 1 });
	await expect(start(id)).rejects.toMatchObject({ code: 'invalid' });
	const mistakes = await firm.run((tx) => exportMistakes(tx, actor, id));
	expect(mistakes).toMatch(
		/^\ufeffRow,Column,What is wrong,Client,Contact,E-mail\r\n2,E-mail,.*,A,Wren,not an address\r\n3,E-mail,.*'=also@wrong\r\n$/
	);
	await change(id, { cell: { line: 2, column: 'email', value: 'wren@a.example' } });
	expect(await counts(id)).toMatchObject({ wrong: 1, create: 2 });
	await change(id, { decideAll: { outcome: 'wrong', decision: 'skip' } });
	expect(await counts(id)).toMatchObject({ wrong: 0, create: 2, skip: 1 });
	await start(id);
	await run(id);
	expect((await list()).map((line) => line.name)).toEqual(['A', 'C']);
	await expect(change(id, { decideAll: { outcome: 'wrong', decision: 'skip' } })).rejects.toMatchObject({ code: 'changed_meanwhile' });
});

test('a cell beyond the end of its row is filled, what a column holds is chosen, one kind once only', async () => {
	const id = await begin('Client,Contact,Whatever\nA,Wren\n');
	await expect(change(id, { cell: { line: 2, column: 'email', value: 'x' } })).rejects.toMatchObject({ code: 'invalid' });
	await expect(change(id, { columns: ['client', 'client', null] })).rejects.toMatchObject({ code: 'invalid' });
	await expect(change(id, { columns: ['client'] })).rejects.toMatchObject({ code: 'invalid' });
	await change(id, { columns: ['client', 'contact', 'email'] });
	await change(id, { cell: { line: 2, column: 'email', value: 'wren@a.example' } });
	const [row] = await firm.run((tx) => readImportRows(tx, actor, id, { outcome: 'create', after: 0 }, 10));
	expect(row.plan.newPerson).toEqual({ name: 'Wren', email: 'wren@a.example', phone: null, language: null });
});

test('doubt is decided row by row', async () => {
	const gull = await makeClient(context, firm, { name: 'Gull & String Kites', access: false });
	const id = await begin('Client,Employees\nGull and String Kites,4\nGull & String Kite,5\n');
	expect(await counts(id)).toMatchObject({ ask: 2 });
	await change(id, { decisions: [{ line: 2, decision: `client:${gull.id}` }] });
	await change(id, { decisions: [{ line: 3, decision: 'new' }] });
	await start(id);
	await run(id);
	expect((await list()).map((line) => line.name)).toEqual(['Gull & String Kite', 'Gull & String Kites']);
	expect((await firm.run((tx) => readFacts(tx, actor, gull.id))).map((f) => f.value)).toEqual(['4']);
});

describe('two at once', () => {
	test('the second list is planned anew when the first has changed what it would do', async () => {
		const [one, two] = [await begin('Client,Employees\nA,1\n'), await begin('Client,Employees\nA,2\nB,1\n')];
		await start(one);
		await start(two);
		await Promise.all([run(one), run(two)]);
		const states = await firm.run(async (tx) => [(await readImport(tx, actor, one)).state, (await readImport(tx, actor, two)).state]);
		expect(states.sort()).toEqual(['done', 'ready']);
		const waiting = (await firm.run((tx) => readImports(tx, actor))).find((i) => i.state === 'ready')!;
		expect(waiting.trouble).toMatch(/have changed/);
		expect(waiting.counts.update).toBe(1);
		await start(waiting.id);
		await run(waiting.id);
		expect((await list()).map((line) => line.name).filter((name) => name === 'A')).toHaveLength(1);
	});
	test('begun twice it runs once, and the worker may be asked twice', async () => {
		const id = await begin('Client\nA\n');
		await start(id);
		await expect(start(id)).rejects.toMatchObject({ code: 'changed_meanwhile' });
		await Promise.all([run(id), run(id)]);
		expect(await list()).toHaveLength(1);
	});
});

test('stopped in the middle, nothing is there; begun again, everything is', async () => {
	const many = 'Client\n' + Array.from({ length: 2500 }, (_, i) => `Client number ${randomUUID()} ${i}`).join('\n');
	const id = await begin(many);
	if ((await counts(id)).ask > 0) await change(id, { decideAll: { outcome: 'ask', decision: 'not_ours' } });
	await start(id);
	await firm.run((tx) => stopImport(tx, actor, id));
	await run(id);
	expect(await list()).toEqual([]);
	expect(await firm.run((tx) => readImport(tx, actor, id))).toMatchObject({
		state: 'ready',
		trouble: 'Stopped. Nothing was imported.',
		progress: 0
	});
	await start(id);
	await run(id);
	const { rows } = await context.owner.query('select count(*)::int n from client where firm_id = $1', [firm.id]);
	expect(rows[0].n).toBe(2500);
});

describe('undoing', () => {
	test('what was added is gone from sight, what was changed is as before; the list can come again', async () => {
		const gull = await makeClient(context, firm, { name: 'Gull', email: 'mara@gull.example', access: false });
		await firm.run((tx) => sayFact(tx, actor, { clientId: gull.id, name: 'employees', value: '2' }));
		context.clock.set('2026-05-04T12:00:00Z');
		actor = firm.odalys();
		const before = await firm.run((tx) => exportClientsCsv(tx, actor));
		const id = await bringIn(
			'Client,Contact,E-mail,Phone,Employees,Kind\nGull,Mara W,mara@gull.example,902 555 0142,9,person\nBrine,Wren,wren@b.example,,3,\n'
		);
		expect(await firm.run((tx) => exportClientsCsv(tx, actor))).not.toBe(before);
		await firm.run((tx) => undoImport(tx, actor, id));
		expect(await firm.run((tx) => exportClientsCsv(tx, actor))).toBe(before);
		expect((await list()).map((line) => line.name)).toEqual(['Gull']);
		expect(await firm.run((tx) => findClients(tx, actor, 'brine', 5))).toEqual([]);
		await expect(firm.run((tx) => undoImport(tx, actor, id))).rejects.toMatchObject({ code: 'changed_meanwhile' });
		await bringIn('Client,Contact,E-mail\nBrine,Wren,wren@b.example\n');
		expect((await list()).map((line) => line.name)).toEqual(['Brine', 'Gull']);
	});

	test('not once somebody has worked with it: the names are told and nothing is changed', async () => {
		const id = await bringIn('Client,Contact,E-mail\nBrine,Wren,wren@b.example\nMidnight,Tam,tam@m.example\n');
		const brine = await clientNamed('Brine');
		await firm.run((tx) => writeNote(tx, actor, { clientId: brine.id, words: 'called' }));
		await expect(firm.run((tx) => undoImport(tx, actor, id))).rejects.toMatchObject({ code: 'invalid', message: expect.stringContaining('Brine') });
		expect(await list()).toHaveLength(2);
	});

	test('nor once one of its people is to sign for another client', async () => {
		const id = await bringIn('Client,Contact,E-mail\nBrine,Wren,wren@b.example\n');
		const other = await makeClient(context, firm, { name: 'Gull', access: false });
		const wren = { clientId: other.id, knownId: null, name: 'Wren', email: 'wren@b.example', phone: null };
		await firm.run((tx) => nameOutsideSigner(tx, actor, wren));
		await expect(firm.run((tx) => undoImport(tx, actor, id))).rejects.toMatchObject({ code: 'invalid', message: expect.stringContaining('Wren') });
	});

	test('a correction made since is a person’s word and stays', async () => {
		const gull = await makeClient(context, firm, { name: 'Gull', access: false });
		const id = await bringIn('Client,Employees\nGull,9\n');
		await firm.run((tx) => sayFact(tx, actor, { clientId: gull.id, name: 'employees', value: '10' }));
		await firm.run((tx) => undoImport(tx, actor, id));
		expect((await firm.run((tx) => readFacts(tx, actor, gull.id))).map((f) => f.value)).toEqual(['10']);
	});
});

test('a later row corrects what an earlier one said of the same new client, also thousands of rows on', async () => {
	const between = Array.from({ length: 1200 }, (_, i) => `${randomUUID()} ${i},`).join('\n');
	const id = await begin(`Client,Employees\nBrine,1\nBrine,2\n${between}\nBrine,3\n`);
	if ((await counts(id)).ask > 0) await change(id, { decideAll: { outcome: 'ask', decision: 'not_ours' } });
	await start(id);
	await run(id);
	const brine = await clientNamed('Brine');
	const [fact] = await firm.run((tx) => readFacts(tx, actor, brine.id));
	expect(fact).toMatchObject({ value: '3', earlier: [{ value: '2' }] });
});

test('only who may; another firm’s list does not exist; a list that was left is gone', async () => {
	const id = await begin('Client\nA\n');
	await expect(begin('Client\nB\n', { ...firm.filing, now: context.clock.now() })).rejects.toMatchObject({ code: 'not_allowed' });
	await expect(firm.run((tx) => exportClientsCsv(tx, firm.filing))).rejects.toMatchObject({ code: 'not_allowed' });
	const other = await makeFirm(context);
	await expect(other.run((tx) => readImport(tx, other.odalys(), id))).rejects.toMatchObject({ code: 'not_found' });
	await expect(changeImport(context, other.id, other.odalys(), id, {})).rejects.toMatchObject({ code: 'not_found' });
	const client = await makeClient(context, firm);
	for (const table of ['client_import', 'client_import_row', 'client_import_trace'])
		await expect(
			client.run((tx) => tx.rows(`select 1 from ${table}`)),
			table
		).rejects.toMatchObject({ code: '42501' });
	await firm.run((tx) => leaveImport(tx, actor, id));
	expect(await firm.run((tx) => readImports(tx, actor))).toEqual([]);
	expect(await firm.run(async (tx) => planImportNow(context, firm.id, await readImport(tx, actor, id)))).toMatchObject({ batches: [] });
});

test('a client that is only for some: not there for others, and not changed by who may only look', async () => {
	await bringIn('Client,Tax number,Employees\nClosed Cove,C-1,1');
	const { id: closed } = await clientNamed('Closed Cove');
	const { partner } = firm;
	const rights = (level: 'see' | 'work' | null) =>
		firm.run((tx) => changeClientRights(tx, actor, { clientId: closed, restricted: true, rights: level ? [{ id: partner.id!, level }] : [] }));
	const bringInAsPartner = async (text: string) => {
		const id = await beginImport({ ...context, db: asStaff(context.db, partner.id!) }, firm.id, partner, {
			fileName: 'list.csv',
			bytes: new TextEncoder().encode(text)
		});
		await firm.run((tx) => startImport(tx, partner, id));
		await runImport(context, firm.id, id, partner.id!, context.clock.now());
		return firm.run((tx) => readImport(tx, partner, id));
	};
	await rights('see');
	expect(await bringInAsPartner('Client,Tax number,Employees\nClosed Cove,C-1,9')).toMatchObject({
		state: 'ready',
		trouble: expect.stringContaining('a client you may only look at')
	});
	await rights('work');
	expect(await bringInAsPartner('Client,Tax number,Employees\nClosed Cove,C-1,9')).toMatchObject({ state: 'done', counts: { newClients: 0 } });
	await rights(null);
	expect(await bringInAsPartner('Client,Tax number,Employees\nClosed Cove,C-1,7')).toMatchObject({ state: 'done', counts: { newClients: 1 } });
	expect((await firm.run((tx) => readFacts(tx, actor, closed))).find((fact) => fact.name === 'employees')?.value).toBe('9');
});

test('two changes at the same moment: the plan that is kept knows both, however slowly the first one was made', async () => {
	const id = await begin('Client,Contact,E-mail,Staff\nPuffin,Ines Moor,ines(at)puffin.example,4');
	let second: Promise<unknown> = Promise.resolve();
	// the first plan is not kept before the second change is through, unless that one rightly waits for it
	const slow = {
		...context,
		lists: {
			...context.lists,
			plan: async (...given: Parameters<typeof context.lists.plan>) => {
				const plan = await context.lists.plan(...given);
				second = change(id, { cell: { line: 2, column: 'email', value: 'ines@puffin.example' } });
				await Promise.race([second, new Promise((resolve) => setTimeout(resolve, 400))]);
				return plan;
			}
		}
	};
	await changeImport(slow, firm.id, actor, id, { columns: ['client', 'contact', 'email', 'employees'] });
	await second;
	expect(await counts(id)).toMatchObject({ wrong: 0, create: 1 });
	const list = await firm.run((tx) => readImport(tx, actor, id));
	expect((await planImportNow(context, firm.id, list)).mark).toBe(list.planMark);
});
