import { Readable } from 'node:stream';
import { describe, expect, test } from 'vitest';
import { keepWords, keepYearsField } from '$lib/core/papers/retention';
import type { Tx } from '../platform/db/database';
import { acceptItem } from '../requests/judge-item';
import { readItem } from '../items/read-items';
import { sendRequest } from '../requests/send-request';
import { itemsOf, paperLine, requestTo } from '../testing/test-firm';
import { client, context, firm, useFirm } from '../testing/use-firm';
import { doWhatIsDue } from '../due/do-what-is-due';
import { fileArrival, takeInArrival } from './arrivals';
import { readPapers } from './client-papers';
import { changeFolder, changeProposedFolders, readFolders } from './folders';
import { openPaper } from './papers';
import {
	destroyDue,
	endHold,
	holdPapers,
	keepPapersFor,
	planDestruction,
	readDestroyed,
	readKeeping,
	readRetention,
	stopDestruction
} from './retention';
import { bringBackPapers, givePaper, showPapers } from './shared-papers';

useFirm();

const admin = () => ({ ...firm.odalys(), role: 'administrator' as const });
/** Somebody looks on another day. */
const on = (day: string) => ({ ...admin(), now: `${day}T12:00:00Z` });
const desk = <T>(work: (tx: Tx) => Promise<T>) => firm.run(work);
const give = async (name: string, folder: string | null = null) =>
	(
		await givePaper(context, firm.id, firm.odalys(), {
			clientId: client.id,
			name,
			content: Readable.from([Buffer.from(`%PDF-1.7 ${name}`)]),
			folder: folder ? { name: folder } : null,
			showing: 'no'
		})
	).id;
const came = (id: string, at: string) => context.owner.query('update paper set uploaded_at = $2 where id = $1', [id, at]);
const keepFor = (years: number | null) => desk((tx) => keepPapersFor(tx, admin(), years));
const keptUntil = async (id: string) => (await desk((tx) => readKeeping(tx, admin(), id)))!.keptUntil;
const over = async (day: string) => (await desk((tx) => readRetention(tx, on(day)))).over.map(({ name }) => name);
const plan = (day: string, ...ids: string[]) => desk((tx) => planDestruction(tx, on(day), ids));
const exists = async (id: string) => {
	const { rows } = await context.owner.query<{ key: string }>('select storage_key "key" from paper where id = $1', [id]);
	return context.papers.size(rows[0].key).then(
		() => true,
		() => false
	);
};

describe('how long a paper is kept', () => {
	test('without end until somebody says otherwise; a folder says it for its own', async () => {
		const [plain, lying] = [await give('plain.pdf'), await give('tax.pdf', 'Tax')];
		expect(await keptUntil(plain)).toBeNull();
		await keepFor(3);
		await came(plain, '2026-05-04T10:00:00Z');
		await came(lying, '2026-05-04T10:00:00Z');
		expect(await keptUntil(plain)).toBe('2029-12-31');
		const { folders } = await desk((tx) => readFolders(tx, admin(), client.id));
		const tax = folders.find(({ name }) => name === 'Tax')!;
		const change = { name: 'Tax', clientMay: 'see' as const, contactIds: null };
		await expect(desk((tx) => changeFolder(tx, firm.odalys(), tax.id, { ...change, keepYears: 10 }))).rejects.toMatchObject({ code: 'not_allowed' });
		await desk((tx) => changeFolder(tx, admin(), tax.id, { ...change, keepYears: 10 }));
		expect(await keptUntil(lying)).toBe('2036-12-31');
		// who may share may go on changing who sees it
		await desk((tx) => changeFolder(tx, firm.odalys(), tax.id, { ...change, clientMay: 'nothing', keepYears: 10 }));
		await keepFor(null);
		expect([await keptUntil(plain), await keptUntil(lying)]).toEqual([null, '2036-12-31']);
	});
	test('a folder of the scheme brings its years along, which administrators alone choose', async () => {
		const scheme = [{ name: 'Payroll', clientMay: 'see' as const, services: [], keepYears: 7 }];
		await expect(desk((tx) => changeProposedFolders(tx, firm.odalys(), scheme))).rejects.toMatchObject({ code: 'not_allowed' });
		await desk((tx) => changeProposedFolders(tx, admin(), scheme));
		await desk((tx) => changeProposedFolders(tx, firm.odalys(), [...scheme, { name: 'Other', clientMay: 'see', services: [], keepYears: null }]));
		const id = await give('wages.pdf', 'payroll');
		await came(id, '2020-02-29T10:00:00Z');
		expect(await keptUntil(id)).toBe('2027-12-31');
	});
	test.each([
		['America/New_York', '2025-12-31'],
		['Pacific/Auckland', '2026-12-31']
	])('the year is that of the firm’s clock: %s', async (zone, until) => {
		await context.owner.query('update firm set time_zone = $2, papers_keep_years = 1 where id = $1', [firm.id, zone]);
		const id = await give('new year.pdf');
		// seven in the evening of New Year's Eve in New York, one in the afternoon of New Year's Day in Auckland
		await came(id, '2025-01-01T00:00:00Z');
		expect(await keptUntil(id)).toBe(until);
		expect(await over(until.replace('31', '30'))).not.toContain('new year.pdf');
		expect(await over(`${Number(until.slice(0, 4)) + 1}-01-02`)).toContain('new year.pdf');
	});
	test('years, as they are chosen and said', () => {
		expect([keepYearsField.parse(''), keepYearsField.parse('7'), keepYearsField.parse(7), keepYearsField.parse(null)]).toEqual([null, 7, 7, null]);
		expect(keepYearsField.safeParse('0').success || keepYearsField.safeParse('1.5').success || keepYearsField.safeParse('x').success).toBe(false);
		expect([keepWords(null), keepWords(1), keepWords(3)]).toEqual([
			'kept without end',
			'kept to the end of the year after they came',
			'kept to the end of the 3rd year after they came'
		]);
	});
});

describe('how papers end', () => {
	const old = async (name: string) => {
		await keepFor(2);
		const id = await give(name);
		await came(id, '2020-06-01T10:00:00Z');
		return id;
	};
	const due = (day: string) => destroyDue(context, firm.id, `${day}T12:00:00Z`);
	test('said, put away, destroyed thirty days later; the record stays, the file does not', async () => {
		const id = await old('ledger 2020.pdf');
		await desk((tx) => showPapers(tx, firm.odalys(), { clientId: client.id, paperIds: [id], tell: false }));
		expect(await over('2026-05-04')).toContain('ledger 2020.pdf');
		expect(await plan('2026-05-04', id)).toBe('2026-06-03');
		await expect(client.run((tx) => openPaper(tx, client.mara(), id, 'look'))).rejects.toMatchObject({ code: 'not_found' });
		await expect(desk((tx) => bringBackPapers(tx, firm.odalys(), { clientId: client.id, paperIds: [id] }))).rejects.toThrow('is to be destroyed');
		expect(await due('2026-06-02')).toBe(0);
		await desk((tx) => openPaper(tx, firm.odalys(), id, 'look'));
		expect(await doWhatIsDue(context, firm.id, '2026-06-03T12:00:00Z').then(() => exists(id))).toBe(false);
		await expect(desk((tx) => openPaper(tx, firm.odalys(), id, 'look'))).rejects.toMatchObject({ code: 'not_found' });
		expect(await desk((tx) => readDestroyed(tx, on('2026-06-03'), 10))).toMatchObject([
			{
				name: 'ledger 2020.pdf',
				clientName: 'Gull & String Kites',
				destroyedAt: '2026-06-03T12:00:00.000Z',
				sha256: expect.stringMatching(/^[0-9a-f]{64}$/)
			}
		]);
		const { rows } = await context.owner.query(
			`select verb, actor_name from event where paper_id = $1 and verb in ('destruction_planned', 'paper_destroyed') order by id`,
			[id]
		);
		expect(rows).toEqual([
			{ verb: 'destruction_planned', actor_name: 'Odalys Fenwick' },
			{ verb: 'paper_destroyed', actor_name: 'Humble Lantern' }
		]);
		// what it was found by is gone too
		expect((await desk((tx) => readPapers(tx, admin(), { clientId: client.id, typed: 'ledger 2020' }))).papers).toEqual([]);
		expect((await context.owner.query('select 1 from stored_file s join paper p using (storage_key) where p.id = $1', [id])).rowCount).toBe(0);
		expect(await due('2026-06-04')).toBe(0);
	});
	test('not before its time, not what is open or has no place, and only by an administrator', async () => {
		const young = await give('young.pdf');
		await keepFor(2);
		await expect(plan('2026-05-04', young)).rejects.toMatchObject({ code: 'changed_meanwhile' });
		const [item] = await itemsOf(context, await sendRequest(context, firm.id, firm.odalys(), requestTo(client, [paperLine('Lease', '2026-05-20')])));
		const sent = (
			await takeInArrival(context, firm.id, client.mara(), { clientId: client.id, name: 'lease.pdf', content: Readable.from(['%PDF-1.7 x']) })
		).id;
		await came(sent, '2019-01-01T00:00:00Z');
		expect(await over('2026-05-04')).not.toContain('lease.pdf');
		await desk((tx) => fileArrival(tx, firm.odalys(), { paperId: sent, itemId: item.id, slot: null }));
		await expect(plan('2026-05-04', sent)).rejects.toMatchObject({ code: 'changed_meanwhile' });
		const { version } = await desk((tx) => readItem(tx, firm.odalys(), item.id));
		await desk((tx) => acceptItem(tx, firm.odalys(), { itemId: item.id, version } as never));
		expect(await over('2026-05-04')).toContain('lease.pdf');
		const acts: readonly ((tx: Tx) => Promise<unknown>)[] = [
			(tx: Tx) => planDestruction(tx, firm.odalys(), [sent]),
			(tx: Tx) => readRetention(tx, firm.odalys()),
			(tx: Tx) => keepPapersFor(tx, firm.odalys(), 1),
			(tx: Tx) => holdPapers(tx, firm.odalys(), { clientId: client.id, reason: 'x' })
		];
		for (const act of acts) await expect(desk(act)).rejects.toMatchObject({ code: 'not_allowed' });
		expect(await plan('2026-05-04', sent)).toBe('2026-06-03');
		expect(await due('2026-06-03')).toBe(1);
	});
	test('stopped in time, or kept longer by its folder meanwhile, it stays', async () => {
		const [stopped, longer] = [await old('stopped.pdf'), await old('longer.pdf')];
		await plan('2026-05-04', stopped, longer);
		await desk((tx) => stopDestruction(tx, admin(), stopped));
		await keepFor(30);
		expect(await due('2026-07-01')).toBe(0);
		expect([await exists(stopped), await exists(longer)]).toEqual([true, true]);
		await desk((tx) => bringBackPapers(tx, firm.odalys(), { clientId: client.id, paperIds: [stopped] }));
	});
	test('a hold keeps everything of a client, also what is going, until it is ended', async () => {
		const [going, later] = [await old('going.pdf'), await old('later.pdf')];
		await plan('2026-05-04', going);
		await desk((tx) => holdPapers(tx, admin(), { clientId: client.id, reason: 'Audit of 2020' }));
		await expect(desk((tx) => holdPapers(tx, admin(), { clientId: client.id, reason: 'again' }))).rejects.toMatchObject({
			code: 'changed_meanwhile'
		});
		await expect(plan('2026-05-04', later)).rejects.toThrow('Everything of the client of later.pdf is kept.');
		expect(await due('2026-08-01')).toBe(0);
		const { holds } = await desk((tx) => readRetention(tx, admin()));
		expect(holds).toMatchObject([{ clientName: 'Gull & String Kites', reason: 'Audit of 2020' }]);
		await desk((tx) => endHold(tx, admin(), holds[0].id));
		expect(await due('2026-08-01')).toBe(1);
		expect([await exists(going), await exists(later)]).toEqual([false, true]);
	});
});
