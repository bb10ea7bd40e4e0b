import { Readable } from 'node:stream';
import { describe, expect, test } from 'vitest';
import { machine } from '../actor';
import type { Tx } from '../platform/db/database';
import { sendRequest } from '../requests/send-request';
import { makeClient, makeFirm, paperLine, requestTo } from '../testing/test-firm';
import { client, context, firm, useFirm } from '../testing/use-firm';
import { fileByItself, keepArrival, putAwayArrival, readArrival, takeInArrival, unfileArrival } from './arrivals';
import { askRuleEarlier, changeKeepingRule, endFilingRule, makeKeepingRule, readFilingRules, tryFilingRule } from './filing-rules';
import { readFolders } from './folders';

useFirm();

const desk = <T>(work: (tx: Tx) => Promise<T>) => firm.run(work);
const send = async (name: string, folderId: string | null = null) =>
	(await takeInArrival(context, firm.id, client.mara(), { clientId: client.id, name, folderId, content: Readable.from([`%PDF-1.7 ${name}`]) })).id;
const goes = (id: string) => desk((tx) => fileByItself(tx, machine(context.clock.now()), id));
const rules = async () => (await desk((tx) => readFilingRules(tx, firm.odalys()))).rules;
/** Keeps a file in a folder, and from now on what is called so. */
async function allow(name: string, folder: string, words?: string[]): Promise<string> {
	const id = await send(name);
	await desk(async (tx) => {
		const { mayKeepItself } = await readArrival(tx, firm.odalys(), id);
		await keepArrival(tx, firm.odalys(), id, { name: folder });
		await makeKeepingRule(tx, firm.odalys(), { paperId: id, words: words ?? mayKeepItself! });
	});
	return id;
}
const where = async (id: string) =>
	(await context.owner.query('select p.kept, f.name folder, p.waits from paper p left join folder f on f.id = p.folder_id where p.id = $1', [id]))
		.rows[0];

describe('what regularly comes and answers nothing', () => {
	test('is kept where the one before was, from the same person under such a name; taken back it is counted', async () => {
		await allow('till april.csv', 'Till reports');
		expect(await rules()).toMatchObject([{ words: ['till'], sender: 'Mara Whitlock', folder: 'Till reports', filed: 0, madeBy: 'Odalys Fenwick' }]);
		const may = await send('Till_May 2026.csv');
		// what goes by itself already is not offered once more
		expect((await desk((tx) => readArrival(tx, firm.odalys(), may))).mayKeepItself).toBeNull();
		expect(await goes(may)).toBe(true);
		expect(await where(may)).toEqual({ kept: true, folder: 'Till reports', waits: false });
		expect(await goes(may)).toBe(false);
		const { rows } = await context.owner.query(`select actor_name from event where paper_id = $1 and verb = 'arrival_kept'`, [may]);
		expect(rows).toEqual([{ actor_name: 'Humble Lantern' }]);
		expect(await rules()).toMatchObject([{ filed: 1, takenBack: 0 }]);
		await desk((tx) => unfileArrival(tx, firm.odalys(), may));
		expect(await where(may)).toEqual({ kept: false, folder: null, waits: true });
		expect(await rules()).toMatchObject([{ filed: 0, takenBack: 1 }]);
		expect(await goes(await send('lease.pdf'))).toBe(false);
		const [{ id }] = await rules();
		await desk((tx) => endFilingRule(tx, firm.odalys(), id));
		expect(await goes(await send('till june.csv'))).toBe(false);
	});
	test('not where it may answer what is asked, or its sender has put it somewhere', async () => {
		await allow('till april.csv', 'Till reports');
		const { folders } = await desk((tx) => readFolders(tx, firm.odalys(), client.id));
		await context.owner.query(`update folder set client_may = 'add' where id = $1`, [folders[0].id]);
		expect(await goes(await send('till may.csv', folders[0].id))).toBe(false);
		await sendRequest(context, firm.id, firm.odalys(), requestTo(client, [paperLine('Till report', '2026-05-20')]));
		expect(await goes(await send('till report.csv'))).toBe(false);
	});
	test('the first that holds is followed; the order can be changed, and the words', async () => {
		await allow('till week.csv', 'Weeks', ['till']);
		await allow('till fees.csv', 'Fees', ['till', 'fees']);
		const ids = (await rules()).map(({ id }) => id);
		const one = await send('till fees may.csv');
		expect(await goes(one)).toBe(true);
		expect((await where(one)).folder).toBe('Weeks');
		await desk((tx) => askRuleEarlier(tx, firm.odalys(), ids[1]));
		await desk((tx) => askRuleEarlier(tx, firm.odalys(), ids[1]));
		expect((await rules()).map(({ folder }) => folder)).toEqual(['Fees', 'Weeks']);
		const two = await send('till fees june.csv');
		await goes(two);
		expect((await where(two)).folder).toBe('Fees');
		await desk((tx) => changeKeepingRule(tx, firm.odalys(), { ruleId: ids[1], words: ['fees', 'bank'], folder: { name: 'Bank fees' } }));
		const bank = await send('bank fees july.csv');
		await goes(bank);
		expect((await where(bank)).folder).toBe('Bank fees');
		const three = await send('till fees july.csv');
		await goes(three);
		expect((await where(three)).folder).toBe('Weeks');
		await expect(desk((tx) => changeKeepingRule(tx, firm.odalys(), { ruleId: ids[1], words: ['till'], folder: null }))).rejects.toMatchObject({
			code: 'invalid'
		});
	});
	test('tried on the past year it says how much would have gone, and how much of that elsewhere', async () => {
		await allow('till january.csv', 'Till reports');
		for (const [name, folder] of [
			['till february.csv', 'Till reports'],
			['till march.csv', 'Elsewhere']
		])
			await desk(async (tx) => keepArrival(tx, firm.odalys(), await send(name), { name: folder }));
		await desk(async (tx) => putAwayArrival(tx, firm.odalys(), await send('till test.csv')));
		const old = await send('till 2019.csv');
		await desk((tx) => putAwayArrival(tx, firm.odalys(), old));
		await context.owner.query(`update paper set uploaded_at = '2019-05-01T10:00:00Z' where id = $1`, [old]);
		await desk(async (tx) => keepArrival(tx, firm.odalys(), await send('lease.pdf'), { name: 'Till reports' }));
		const [{ id }] = await rules();
		expect(await desk((tx) => tryFilingRule(tx, firm.odalys(), id))).toEqual({ filed: 4, wrong: 2 });
		const { months, clients } = await desk((tx) => readFilingRules(tx, firm.odalys()));
		expect([months, clients]).toMatchObject([[{ of: '2026-05', dealt: 5, filed: 0 }], [{ of: 'Gull & String Kites', dealt: 5 }]]);
	});
	test('nobody of another firm, no client, and nothing of a name that any file has', async () => {
		const scan = await send('scan0012.pdf');
		expect((await desk((tx) => readArrival(tx, firm.odalys(), scan))).mayKeepItself).toBeNull();
		await desk((tx) => keepArrival(tx, firm.odalys(), scan));
		await expect(desk((tx) => makeKeepingRule(tx, firm.odalys(), { paperId: scan, words: [] }))).rejects.toMatchObject({ code: 'invalid' });
		await expect(desk((tx) => makeKeepingRule(tx, client.mara(), { paperId: scan, words: ['x'] }))).rejects.toMatchObject({ code: 'not_allowed' });
		const paper = await allow('till april.csv', 'Till reports');
		const [{ id }] = await rules();
		const other = await makeFirm(context);
		await makeClient(context, other);
		for (const act of [
			(tx: Tx) => makeKeepingRule(tx, other.odalys(), { paperId: paper, words: ['till'] }),
			(tx: Tx) => endFilingRule(tx, other.odalys(), id),
			(tx: Tx) => changeKeepingRule(tx, other.odalys(), { ruleId: id, words: ['x'], folder: null }),
			(tx: Tx) => askRuleEarlier(tx, other.odalys(), id)
		])
			await expect(other.run(act)).rejects.toMatchObject({ code: 'not_found' });
		await expect(other.run((tx) => tryFilingRule(tx, other.odalys(), id))).rejects.toMatchObject({ code: 'not_found' });
	});
});
