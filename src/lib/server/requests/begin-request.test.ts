import { describe, expect, test } from 'vitest';
import { accountSchema } from '$lib/core/statements/accounts';
import { READY_MADE_LISTS } from '$lib/core/requests/ready-made-lists';
import { sayFact } from '../clients/client-facts';
import { loadFirm } from '../firms/firm';
import { copyList, readList } from '../library/request-lists';
import { writeAccount } from '../statements/accounts';
import { makeClient, makeFirm } from '../testing/test-firm';
import { client, context, firm, useFirm } from '../testing/use-firm';
import { beginRequest } from './begin-request';
import { keepOverride } from './tailor-list';

// in Halifax it is still the day before
useFirm({ at: '2026-05-05T01:30:00Z' });

const begin = (from: Parameters<typeof beginRequest>[4], of = client) =>
	firm.run(async (tx) => beginRequest(tx, firm.odalys(), await loadFirm(tx), of.id, from));
const out = (lines: Awaited<ReturnType<typeof begin>>['lines']) =>
	Object.fromEntries(lines.filter((line) => line.out).map((line) => [line.title, line.because]));
const say = (name: Parameters<typeof sayFact>[2]['name'], value: string) =>
	firm.run((tx) => sayFact(tx, firm.odalys(), { clientId: client.id, name, value }));
const account = (more: object) =>
	firm.run((tx) =>
		writeAccount(
			tx,
			firm.odalys(),
			client.id,
			accountSchema.parse({ kind: 'bank', institution: 'Tideline Savings', lastFour: '4471', currency: 'CAD', closingDay: 31, ...more }),
			null
		)
	);

describe('a ready-made list', () => {
	test('fits the client: what does not apply is out and says why, what decides is asked first', async () => {
		const before = await begin({ readyMade: 'taking-on-company' });
		expect(before).toMatchObject({ list: null, name: 'Taking on a company', title: 'Getting started', message: null });
		expect(before.missing).toEqual(expect.arrayContaining(['payroll', 'sales_tax', 'legal_form']));
		await say('payroll', 'no');
		await say('legal_form', 'company');
		const after = await begin({ readyMade: 'taking-on-company' });
		expect(after.missing).not.toContain('payroll');
		expect(out(after.lines)).toMatchObject({
			'Does the company pay wages?': 'Runs payroll is no',
			'Last payroll run and the year to date': 'Runs payroll is no',
			'Which legal form does it have?': 'Legal form is company'
		});
		expect(after.lines.find((line) => line.title.startsWith('Register of directors'))?.out).toBe(false);
	});
	test('is due by the firm’s own day and calendar, also when it is tomorrow elsewhere', async () => {
		const { lines } = await begin({ readyMade: 'taking-on-company' });
		// five business days after Monday, 4 May
		expect(lines[0]).toMatchObject({ title: 'Engagement letter', dueOn: '2026-05-11', dueBy: 'rule' });
	});
	test.each(READY_MADE_LISTS.map((list) => [list.id]))('%s begins for somebody of whom nothing is known', async (id) => {
		const { lines } = await begin({ readyMade: id });
		expect(lines.filter((line) => !line.out).length).toBeGreaterThan(0);
		expect(new Set(lines.map((line) => line.key)).size).toBe(lines.length);
		for (const line of lines) expect(line.dueOn, line.title).toMatch(/^2026-0[5-7]-\d\d$/);
	});
	test('that there is not, and a client of another firm', async () => {
		await expect(begin({ readyMade: 'none' })).rejects.toMatchObject({ code: 'not_found' });
		const other = await makeFirm(context);
		await expect(begin({ readyMade: 'month-close' }, await makeClient(context, other))).rejects.toMatchObject({ code: 'not_found' });
	});
});

describe('a line that stands for statements', () => {
	const titles = async () => (await begin({ readyMade: 'month-close' })).lines.map((line) => line.title);
	test('gives one for each account of the month before, and stays where none is known', async () => {
		expect(await titles()).toEqual(expect.arrayContaining(['Bank statement', 'Card statement']));
		await account({});
		await account({ institution: 'Old Harbour Bank', lastFour: '0007', closedOn: '2025-12-31' });
		await account({ institution: 'New Quay Bank', lastFour: '', openedOn: '2026-05-02' });
		await account({ kind: 'card', institution: 'Gullhaven Card', lastFour: '9' });
		const now = await titles();
		expect(now.filter((title) => /Tideline|Card|Harbour|Quay/.test(title))).toEqual([
			expect.stringMatching(/Tideline Savings ··4471.*April 2026/),
			expect.stringMatching(/Gullhaven Card ··9.*April 2026/)
		]);
		expect(now).not.toContain('Bank statement');
	});
	test('each has a key of its own, which stays the same when it is begun again', async () => {
		await account({});
		await account({ institution: 'Second Savings', lastFour: '2' });
		const keys = async () => (await begin({ readyMade: 'month-close' })).lines.map((line) => line.key);
		expect(new Set(await keys()).size).toBe((await keys()).length);
		expect(await keys()).toEqual(await keys());
	});
});

describe('a list of the Library', () => {
	test('goes with its version and words, and with what was decided for this client before', async () => {
		const listId = await firm.run((tx) => copyList(tx, firm.odalys(), { readyMade: 'year-end-close' }));
		const list = await firm.run((tx) => readList(tx, firm.odalys(), listId));
		const [line] = list.lines;
		const decide = (decision: 'in' | 'out' | null) =>
			firm.run((tx) => keepOverride(tx, firm.odalys(), { clientId: client.id, listId, lineKey: line.key, decision }));
		await decide('out');
		const begun = await begin({ listId });
		expect(begun).toMatchObject({ list: { id: listId, version: 1 }, name: list.name });
		expect(begun.lines[0]).toMatchObject({ key: line.key, out: true });
		const other = await makeClient(context, firm, { name: 'Other' });
		expect((await begin({ listId }, other)).lines[0].out).toBe(false);
		await decide('in');
		await decide(null);
		await decide(null);
		expect((await begin({ listId })).lines[0].out).toBe(false);
		const { rows } = await context.owner.query(`select verb from event where client_id = $1 and verb like 'line_%' order by id`, [client.id]);
		expect(rows.map((row) => row.verb)).toEqual(['line_kept_out', 'line_kept_in', 'line_left_to_rule']);
		await expect(begin({ listId: client.id })).rejects.toMatchObject({ code: 'not_found' });
	});
});
