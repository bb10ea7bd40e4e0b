import { describe, expect, test } from 'vitest';
import { type FactForm } from '$lib/core/facts/fact-form';
import { READY_MADE_FACTS } from '$lib/core/facts/fact-definition';
import { READY_MADE_LISTS } from '$lib/core/requests/ready-made-lists';
import type { Actor } from '../actor';
import { confirmFact, confirmOwnFact, readFacts, readOwnFacts, readPapersToReadFrom, sayFact, sayOwnFact, showFact } from '../clients/client-facts';
import { changeClientRights } from '../clients/client-rights';
import { findClients } from '../clients/find-clients';
import { exportClientsCsv } from '../clients/import/export-clients';
import { readHistory } from '../clients/read-clients';
import { changeList, copyList, readList, readLists } from '../library/request-lists';
import { beginRequest } from '../requests/begin-request';
import { loadFirm } from '../firms/firm';
import { recordValues } from '../letters/record-values';
import { makeClient, makeFirm, type TestClient } from '../testing/test-firm';
import { client, context, firm, useFirm } from '../testing/use-firm';
import { addFact, changeFact, mergeFacts, orderFacts, previewFactMerge, readFactRows, retireFact } from './change-facts';
import { loadFacts } from './firm-facts';

useFirm();

const form = (label: string, more: Partial<FactForm> = {}): FactForm => ({
	label,
	hint: '',
	heading: 'The business',
	is: { kind: 'words', max: 200 },
	clientMay: 'correct',
	seenBy: 'all',
	secret: false,
	confirmAfter: null,
	...more
});
const choices = (...words: string[]) => ({ kind: 'choice' as const, choices: words.map((one) => ({ key: one, words: one })) });
const add = (label: string, more: Partial<FactForm> = {}, actor = firm.odalys()) => firm.run((tx) => addFact(tx, actor, form(label, more)));
const change = (name: string, label: string, more: Partial<FactForm> = {}, actor = firm.odalys()) =>
	firm.run((tx) => changeFact(tx, actor, name, form(label, more)));
const say = (name: string, value: unknown, clientId = client.id, actor = firm.odalys()) =>
	firm.run((tx) => sayFact(tx, actor, { clientId, name, value }));
const known = async (clientId = client.id, actor = firm.odalys()) =>
	Object.fromEntries((await firm.run((tx) => readFacts(tx, actor, clientId))).map((fact) => [fact.name, fact]));
/** From here on only one person of the firm sees the client. */
const closeTo = (person: Actor) =>
	context.db.inFirm(
		firm.id,
		(tx) => changeClientRights(tx, person, { clientId: client.id, restricted: true, rights: [{ id: person.id!, level: 'administer' }] }),
		{ staffId: person.id! }
	);
const verbs = async () => (await firm.run((tx) => readHistory(tx, firm.odalys(), client.id, null, 50))).map((event) => event.verb).reverse();

describe('read from a paper', () => {
	const paperOf = async (of: TestClient, name: string) =>
		(
			await context.owner.query<{ id: string }>(
				`insert into paper (id, firm_id, client_id, name, bytes, sha256, content_type, storage_key, uploaded_at, unasked)
				values (gen_random_uuid(), $1, $2, $3, 1, '\\x00', 'application/pdf', gen_random_uuid()::text, $4, true) returning id`,
				[firm.id, of.id, name, context.clock.now()]
			)
		).rows[0].id;
	const read = (value: string, paperId: string) =>
		firm.run((tx) => sayFact(tx, firm.odalys(), { clientId: client.id, name: 'legal_form', value, paperId }));

	test('it names the paper; found so once more it is confirmed, and a correction by word of mouth names none', async () => {
		const [charter, letter] = [await paperOf(client, 'charter.pdf'), await paperOf(client, 'letter.pdf')];
		await read('company', charter);
		expect((await known()).legal_form).toMatchObject({ value: 'company', saidBy: 'Odalys Fenwick', paper: { id: charter, name: 'charter.pdf' } });
		await read('company', letter);
		expect((await known()).legal_form).toMatchObject({ paper: { name: 'letter.pdf' }, confirmedBy: 'Odalys Fenwick', earlier: [] });
		await say('legal_form', 'partnership');
		expect((await known()).legal_form).toMatchObject({ paper: null, earlier: [{ value: 'company' }] });
		expect((await firm.run((tx) => readPapersToReadFrom(tx, firm.odalys(), client.id))).map(({ id }) => id).sort()).toEqual([charter, letter].sort());
	});
	test('one of another client, or one that was taken out, is none', async () => {
		const other = await makeClient(context, firm, { name: 'Somebody else' });
		const gone = await paperOf(client, 'gone.pdf');
		await context.owner.query('update paper set removed_at = now() where id = $1', [gone]);
		for (const paper of [await paperOf(other, 'theirs.pdf'), gone]) await expect(read('company', paper)).rejects.toMatchObject({ code: 'not_found' });
		expect((await known()).legal_form).toBeUndefined();
	});
});

test('a new firm wants to know what ships with the product, as core has it', async () => {
	const { all } = await firm.run((tx) => loadFacts(tx));
	expect(all).toEqual(READY_MADE_FACTS);
});

describe('a fact of the firm’s own', () => {
	test('is said, corrected and kept like any other; what is wrong is said at the value', async () => {
		const name = await add('Sales of the last year', { is: { kind: 'money', currency: 'CAD' } });
		expect(name).toBe('sales_of_the_last_year');
		await say(name, '1,250');
		await say(name, '1,300.5');
		expect((await known())[name]).toMatchObject({ value: '1300.50', saidBy: 'Odalys Fenwick', earlier: [{ value: '1250.00' }] });
		await expect(say(name, 'a lot')).rejects.toMatchObject({ issues: [{ path: ['value'] }] });
		await expect(say('no_such_fact', '1')).rejects.toMatchObject({ code: 'not_found' });
		expect((await verbs()).filter((verb) => verb.startsWith('fact'))).toEqual(['fact_said', 'fact_corrected']);
	});
	test('two of one name stay two names; a label is taken once, in any case', async () => {
		expect(await add('E-mail')).toBe('e_mail');
		await expect(add('e-mail')).rejects.toMatchObject({ code: 'invalid', fields: { label: expect.any(String) } });
		expect(await add('Email')).toBe('email_2');
		expect(await add('Legal  form?')).toBe('legal_form_2');
	});
	test('of two at once by one name only one is made', async () => {
		const made = await Promise.allSettled(Array.from({ length: 4 }, () => add('Kind of till')));
		expect(made.filter(({ status }) => status === 'fulfilled')).toHaveLength(1);
	});
	test('filing adds, changes and orders none', async () => {
		await expect(add('X', {}, firm.filing)).rejects.toMatchObject({ code: 'not_allowed' });
		await expect(change('software', 'Y', {}, firm.filing)).rejects.toMatchObject({ code: 'not_allowed' });
		await expect(firm.run((tx) => orderFacts(tx, firm.filing, ['software']))).rejects.toMatchObject({ code: 'not_allowed' });
	});
	test('goes out into the list of clients, unless it is secret, or not for this person’s eyes', async () => {
		const till = await add('Kind of till', { is: { kind: 'several', choices: choices('card', 'cash').choices } });
		const sin = await add('Insurance number', { secret: true });
		await say(till, ['cash', 'card']);
		await say(sin, 'S-1');
		const csv = await firm.run((tx) => exportClientsCsv(tx, firm.odalys()));
		expect(csv).toContain('Kind of till');
		expect(csv).toContain('card; cash');
		expect(csv).not.toMatch(/Insurance number|S-1/);
	});
	test('finds its client, unless it is a secret or not for everybody, or has become so', async () => {
		const name = await add('Licence', { is: { kind: 'words', max: 200 } });
		await say(name, 'QX-77812');
		const finds = async () => (await firm.run((tx) => findClients(tx, firm.odalys(), '77812', 5))).length;
		expect(await finds()).toBe(1);
		for (const more of [{ secret: true }, { seenBy: 'keepers' as const }]) {
			await change(name, 'Licence', more);
			expect(await finds()).toBe(0);
		}
		await say(name, 'QX-77812-B');
		expect(await finds()).toBe(0);
		await change(name, 'Licence');
		expect(await finds()).toBe(1);
	});
});

test('fills letters in the words of their language, unless it is secret, hidden from clients, or too long', async () => {
	const values = (locale: string) => firm.run((tx) => recordValues(tx, firm.odalys(), client.id, locale));
	await say('legal_form', 'company');
	await say(await add('Sales', { is: { kind: 'money', currency: 'CAD' } }), '1250.5');
	await say(await add('Shop', { is: { kind: 'lines', max: 4000 } }), 'Net loft\nSlipway');
	await say(await add('Story', { is: { kind: 'lines', max: 4000 } }), 'x'.repeat(401));
	for (const more of [{ secret: true }, { clientMay: 'nothing' as const }]) await say(await add(`Hidden ${Object.keys(more)[0]}`, more), 'z');
	expect(await values('en')).toEqual({ legal_form: 'company', sales: '1,250.50 CAD', shop: 'Net loft, Slipway' });
	expect((await values('fr')).sales).toMatch(/^1\s250,50 CAD$/);
});

describe('who may see it', () => {
	test('a secret is shown on asking, and the history says who asked', async () => {
		const name = await add('Insurance number', { secret: true });
		await say(name, 'S-1');
		await say(name, 'S-2');
		expect((await known())[name]).toMatchObject({ value: '', earlier: [] });
		expect(await firm.run((tx) => showFact(tx, firm.odalys(), { clientId: client.id, name }))).toBe('S-2');
		expect((await verbs()).at(-1)).toBe('fact_shown');
		expect(JSON.stringify(await client.run((tx) => readOwnFacts(tx, client.mara())))).not.toMatch(/S-2|insurance/i);
	});
	test('what is for some of the firm alone is not there for the others, read, written or shown', async () => {
		const name = await add('Rating', { seenBy: 'keepers', is: choices('good', 'bad') });
		await say(name, 'bad');
		expect((await known(client.id, firm.filing))[name]).toBeUndefined();
		await expect(firm.run((tx) => showFact(tx, firm.filing, { clientId: client.id, name }))).rejects.toMatchObject({ code: 'not_found' });
		expect((await firm.run((tx) => readFactRows(tx, firm.filing))).map((fact) => fact.name)).not.toContain(name);
		const bookkeeper = { ...firm.odalys(), role: 'bookkeeper' as const };
		await change(name, 'Rating', { seenBy: 'leaders', is: choices('good', 'bad') });
		await expect(say(name, 'good', client.id, bookkeeper)).rejects.toMatchObject({ code: 'not_found' });
		// nobody opens to themselves what they may not see
		await expect(change(name, 'Rating', { is: choices('good', 'bad') }, bookkeeper)).rejects.toMatchObject({ code: 'not_found' });
	});
	test('the reason beside a line says no more than somebody may know', async () => {
		const name = await add('Rating', { seenBy: 'leaders', is: choices('good', 'bad') });
		await say(name, 'bad');
		const listId = await firm.run((tx) => copyList(tx, firm.odalys(), { readyMade: READY_MADE_LISTS[0].id }));
		const list = await firm.run((tx) => readList(tx, firm.odalys(), listId));
		const lines = [{ ...list.lines[0], condition: { kind: 'fact' as const, fact: name, is: 'equals' as const, value: 'good' } }];
		await firm.run((tx) => changeList(tx, firm.odalys(), listId, list.version, { ...list, lines }));
		const reason = async (actor: Actor) =>
			(await firm.run(async (tx) => beginRequest(tx, actor, await loadFirm(tx), client.id, { listId }))).lines[0].because;
		expect(await reason(firm.odalys())).toBe('Rating is bad');
		expect(await reason({ ...firm.odalys(), role: 'bookkeeper' })).toBe('Rating is known, and not shown');
	});
	test('a client corrects what they may, reads what they may, and does not see the rest', async () => {
		const [mine, read, hidden] = [
			await add('Website', { is: { kind: 'web' } }),
			await add('Fee', { clientMay: 'read' }),
			await add('Rating', { clientMay: 'nothing' })
		];
		for (const name of [read, hidden]) await say(name, 'x');
		const ofMara = (name: string, value: unknown) => client.run((tx) => sayOwnFact(tx, client.mara(), { clientId: client.id, name, value }));
		await ofMara(mine, 'gull.example');
		await expect(ofMara(mine, 'javascript:alert(1)')).rejects.toMatchObject({ issues: [{ path: ['value'] }] });
		for (const name of [read, hidden]) await expect(ofMara(name, 'y')).rejects.toMatchObject({ code: 'not_found' });
		const own = await client.run((tx) => readOwnFacts(tx, client.mara()));
		expect(own.clients[0].facts.map((fact) => [fact.name, fact.value])).toEqual(
			expect.arrayContaining([
				[mine, 'https://gull.example'],
				[read, 'x']
			])
		);
		expect(own.definitions.map(({ name }) => name)).not.toContain(hidden);
		await firm.run((tx) => retireFact(tx, firm.odalys(), mine, true));
		await expect(ofMara(mine, 'kites.example')).rejects.toMatchObject({ code: 'not_found' });
	});
});

describe('confirming', () => {
	test('says who and when, starts the time anew, and is no correction', async () => {
		const name = await add('Directors', { confirmAfter: 12 });
		await say(name, 'Wren');
		context.clock.set('2026-09-01T13:30:00Z');
		await firm.run((tx) => confirmFact(tx, firm.odalys(), { clientId: client.id, name }));
		expect((await known())[name]).toMatchObject({
			value: 'Wren',
			confirmedBy: 'Odalys Fenwick',
			confirmedAt: '2026-09-01T13:30:00.000Z',
			earlier: []
		});
		await client.run((tx) => confirmOwnFact(tx, client.mara(), { clientId: client.id, name }));
		expect((await known())[name]).toMatchObject({ confirmedBy: client.mara().name });
		expect((await verbs()).slice(-2)).toEqual(['fact_confirmed', 'fact_confirmed']);
		await expect(firm.run((tx) => confirmFact(tx, firm.odalys(), { clientId: client.id, name: 'employees' }))).rejects.toMatchObject({
			code: 'changed_meanwhile'
		});
		await expect(firm.run((tx) => confirmFact(tx, firm.filing, { clientId: client.id, name }))).rejects.toMatchObject({ code: 'not_allowed' });
	});
	test('nobody confirms what is another client’s', async () => {
		const other = await makeClient(context, firm, { name: 'Brine & Barrow' });
		await say('employees', '3', other.id);
		await expect(client.run((tx) => confirmOwnFact(tx, client.mara(), { clientId: other.id, name: 'employees' }))).rejects.toMatchObject({
			code: 'not_found'
		});
	});
});

describe('changing a definition', () => {
	test('a new label changes nothing else; what names it follows', async () => {
		const listId = await firm.run((tx) => copyList(tx, firm.odalys(), { readyMade: READY_MADE_LISTS[0].id }));
		await change('payroll', 'Pays wages', { is: { kind: 'yes_no' } });
		await say('payroll', 'no');
		const begun = await firm.run(async (tx) => beginRequest(tx, firm.odalys(), await loadFirm(tx), client.id, { listId }));
		expect(begun.lines.filter((line) => line.out).map((line) => line.because)).toContain('Pays wages is no');
	});
	test.each<[string, FactForm['is'], string, FactForm['is'], boolean]>([
		['more choices', choices('a', 'b'), 'a', choices('a', 'b', 'c'), true],
		[
			'a choice called otherwise',
			choices('a', 'b'),
			'a',
			{
				kind: 'choice',
				choices: [
					{ key: 'a', words: 'Ay' },
					{ key: 'b', words: 'b' }
				]
			},
			true
		],
		['a choice gone that nobody has', choices('a', 'b', 'c'), 'a', choices('a', 'b'), true],
		['a choice gone that somebody has', choices('a', 'b', 'c'), 'c', choices('a', 'b'), false],
		['from words to a number', { kind: 'words', max: 200 }, '12', { kind: 'number', unit: '', whole: true }, false],
		['from a number to words', { kind: 'number', unit: '', whole: true }, '12', { kind: 'words', max: 200 }, true],
		['another currency', { kind: 'money', currency: 'CAD' }, '12', { kind: 'money', currency: 'USD' }, false],
		['a unit', { kind: 'number', unit: '', whole: false }, '12.5', { kind: 'number', unit: 'km', whole: false }, true],
		['whole numbers where there are others', { kind: 'number', unit: '', whole: false }, '12.5', { kind: 'number', unit: '', whole: true }, false],
		[
			'a column gone that has cells',
			{
				kind: 'table',
				columns: [
					{ key: 'a', label: 'A', is: { kind: 'words', max: 200 } },
					{ key: 'b', label: 'B', is: { kind: 'date' } }
				]
			},
			'[{"a":"x","b":"2026-01-01"}]',
			{ kind: 'table', columns: [{ key: 'a', label: 'A', is: { kind: 'words', max: 200 } }] },
			false
		]
	])('%s', async (_, before, value, after, allowed) => {
		const name = await add('It', { is: before });
		await say(name, value);
		const changed = change(name, 'It', { is: after });
		if (allowed) await changed;
		else await expect(changed).rejects.toMatchObject({ code: 'invalid', fields: { is: expect.any(String) } });
		expect((await known())[name].value).not.toBe('');
	});
	test('also for clients that are closed to whoever changes it', async () => {
		const name = await add('It', { is: choices('a', 'b') });
		await say(name, 'b');
		await closeTo(firm.partner);
		const closed = context.db.inFirm(firm.id, (tx) => changeFact(tx, firm.odalys(), name, form('It', { is: choices('a', 'c') })), {
			staffId: firm.odalys().id!
		});
		await expect(closed).rejects.toMatchObject({ code: 'invalid' });
	});
	test('what ships with the product keeps its kind and its choices', async () => {
		await expect(change('year_end', 'Year end', { is: { kind: 'date' } })).rejects.toMatchObject({ fields: { is: expect.any(String) } });
		await expect(change('method', 'Method', { is: choices('accrual', 'other') })).rejects.toMatchObject({ fields: { is: expect.any(String) } });
		await change('method', 'Method', { is: choices('accrual', 'cash', 'mixed') });
		await say('method', 'mixed');
	});
	test('retired it is kept and no longer asked; taken up again, unless its name is taken', async () => {
		const name = await add('Kind of till');
		await say(name, 'old');
		const retire = (yes: boolean) => firm.run((tx) => retireFact(tx, firm.odalys(), name, yes));
		await retire(true);
		await retire(true);
		expect((await firm.run((tx) => loadFacts(tx))).asked.map((fact) => fact.name)).not.toContain(name);
		expect((await known())[name].value).toBe('old');
		await add('Kind of till');
		await expect(retire(false)).rejects.toMatchObject({ code: 'invalid' });
	});
	test('the order is that of the record; those that were not named stay behind', async () => {
		await firm.run((tx) => orderFacts(tx, firm.odalys(), ['software', 'year_end', 'nonsense']));
		const { all } = await firm.run((tx) => loadFacts(tx));
		expect(all.slice(0, 3).map(({ name }) => name)).toEqual(['software', 'year_end', 'legal_form']);
		expect(all).toHaveLength(READY_MADE_FACTS.length);
	});
});

describe('merging', () => {
	async function two(is: FactForm['is'] = choices('a', 'b'), other: FactForm['is'] = choices('a', 'c')): Promise<[string, string]> {
		return [await add('Till', { is }), await add('Kind of till', { is: other })];
	}
	const merge = (from: string, into: string) => firm.run((tx) => mergeFacts(tx, firm.odalys(), from, into));

	test('moves what is known, keeps what was said before, and what differs goes into the history', async () => {
		const [from, into] = await two();
		const brine = await makeClient(context, firm, { name: 'Brine & Barrow' });
		const quay = await makeClient(context, firm, { name: 'Quay' });
		await say(from, 'a');
		await say(from, 'b');
		await say(from, 'b', brine.id);
		await say(into, 'c', brine.id);
		await say(from, 'a', quay.id);
		await say(into, 'a', quay.id);
		expect(await firm.run((tx) => previewFactMerge(tx, firm.odalys(), from, into))).toMatchObject({ onlyFrom: 1, alike: 1, differ: 1, lists: 0 });
		await merge(from, into);
		expect((await known())[into]).toMatchObject({ value: 'b', earlier: [{ value: 'a' }] });
		expect((await known(brine.id))[into]).toMatchObject({ value: 'c', earlier: [{ value: 'b' }] });
		expect((await known(quay.id))[into]).toMatchObject({ value: 'a' });
		// the old name means the new one
		await say(from, 'c');
		expect((await known())[into].value).toBe('c');
		await expect(merge(from, into)).rejects.toMatchObject({ code: 'not_found' });
	});
	test('lists that name it go by the new one, and a condition on it holds', async () => {
		const [from, into] = await two();
		const listId = await firm.run((tx) => copyList(tx, firm.odalys(), { readyMade: READY_MADE_LISTS[0].id }));
		const list = await firm.run((tx) => readList(tx, firm.odalys(), listId));
		const lines = [{ ...list.lines[0], condition: { kind: 'fact' as const, fact: from, is: 'equals' as const, value: 'b' } }];
		await firm.run((tx) => changeList(tx, firm.odalys(), listId, list.version, { ...list, lines }));
		expect(await firm.run((tx) => previewFactMerge(tx, firm.odalys(), from, into))).toMatchObject({ lists: 1 });
		await say(from, 'a');
		await merge(from, into);
		const begun = await firm.run(async (tx) => beginRequest(tx, firm.odalys(), await loadFirm(tx), client.id, { listId }));
		expect(begun.lines[0]).toMatchObject({ out: true, because: 'Kind of till is a' });
		expect((await firm.run((tx) => readLists(tx, firm.odalys()))).map(({ id }) => id)).toContain(listId);
	});
	test.each<[string, FactForm['is'], FactForm['is']]>([
		['kinds that are written down unlike', choices('a', 'b'), { kind: 'date' }],
		['two currencies', { kind: 'money', currency: 'CAD' }, { kind: 'money', currency: 'USD' }],
		['words into a number', { kind: 'words', max: 200 }, { kind: 'number', unit: '', whole: true }]
	])('%s stay two', async (_, is, other) => {
		const [from, into] = await two(is, other);
		await expect(merge(from, into)).rejects.toMatchObject({ code: 'invalid' });
	});
	test('what ships is merged into, never away; a secret does not come open by it; bookkeepers do not merge', async () => {
		const own = await add('Programme');
		await expect(merge('software', own)).rejects.toMatchObject({ code: 'invalid' });
		const secret = await add('Hidden', { secret: true });
		await expect(merge(secret, own)).rejects.toMatchObject({ code: 'invalid' });
		await expect(merge(own, own)).rejects.toMatchObject({ code: 'invalid' });
		await expect(firm.run((tx) => mergeFacts(tx, { ...firm.odalys(), role: 'bookkeeper' }, own, 'software'))).rejects.toMatchObject({
			code: 'not_allowed'
		});
		await merge(own, 'software');
	});
	test('reaches clients that are closed to whoever merges', async () => {
		const [from, into] = await two();
		await say(from, 'b');
		await closeTo(firm.partner);
		await context.db.inFirm(firm.id, (tx) => mergeFacts(tx, firm.odalys(), from, into), { staffId: firm.odalys().id! });
		expect((await known(client.id, firm.partner))[into]).toMatchObject({ value: 'b' });
	});
});

test('a list names only facts of the firm, and what is wrong is said at its line', async () => {
	const listId = await firm.run((tx) => copyList(tx, firm.odalys(), { readyMade: READY_MADE_LISTS[0].id }));
	const list = await firm.run((tx) => readList(tx, firm.odalys(), listId));
	const save = (condition: object) =>
		firm.run((tx) => changeList(tx, firm.odalys(), listId, list.version, { ...list, lines: [{ ...list.lines[0], condition: condition as never }] }));
	await expect(save({ kind: 'fact', fact: 'shoe_size', is: 'known', value: '' })).rejects.toMatchObject({
		fields: { 'lines.0.condition.fact': expect.any(String) }
	});
	await expect(save({ kind: 'all', of: [{ kind: 'fact', fact: 'employees', is: 'greater', value: 'many' }] })).rejects.toMatchObject({
		fields: { 'lines.0.condition.of.0.value': expect.objectContaining({ key: 'wrong.answer.whole' }) }
	});
});

test('nothing of another firm is read or changed by a name', async () => {
	const name = await add('Ours alone');
	const theirs = await makeFirm(context);
	await expect(theirs.run((tx) => changeFact(tx, theirs.odalys(), name, form('Stolen')))).rejects.toMatchObject({ code: 'not_found' });
	await theirs.run((tx) => changeFact(tx, theirs.odalys(), 'software', form('Their software', { is: { kind: 'words', max: 120 } })));
	expect((await firm.run((tx) => loadFacts(tx))).get('software')?.label).toBe('Connected software');
});
