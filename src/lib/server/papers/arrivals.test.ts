import { Readable } from 'node:stream';
import { PDFDocument } from '@cantoo/pdf-lib';
import { describe, expect, test } from 'vitest';
import { addContact } from '../clients/contacts';
import { changeClientRights } from '../clients/client-rights';
import { asStaff, type Tx } from '../platform/db/database';
import { loadFirm } from '../firms/firm';
import { readItem } from '../items/read-items';
import { acceptItem } from '../requests/judge-item';
import { sendRequest } from '../requests/send-request';
import { countRounds } from '../rounds/read-rounds';
import { itemsOf, makeClient, makeFirm, paperLine, requestTo, type TestClient } from '../testing/test-firm';
import { client, context, firm, useFirm } from '../testing/use-firm';
import {
	dealWithArrivals,
	nameArrivals,
	fileArrival,
	noteArrival,
	putAwayArrival,
	readArrival,
	readArrivalsWithPlaces,
	readDealtArrivals,
	readOwnArrivals,
	takeBackArrival,
	takeInArrival,
	unfileArrival,
	WAITING_MOST
} from './arrivals';
import { readPaper } from '../statements/read-paper';
import { openPaper } from './papers';

useFirm();

const desk = <T>(work: (tx: Tx) => Promise<T>) => firm.run(work);
const send = async (name: string, content: string | Uint8Array = `%PDF-1.7 ${name}`, of: TestClient = client, clientId = of.id) =>
	(await takeInArrival(context, firm.id, of.mara(), { clientId, name, content: Readable.from([Buffer.from(content)]) })).id;
const ask = async (lines: object[]) =>
	(
		await itemsOf(
			context,
			await sendRequest(
				context,
				firm.id,
				firm.odalys(),
				requestTo(client, lines.map((more, n) => ({ ...paperLine(`Paper ${n}`, '2026-05-20'), ...more })) as never)
			)
		)
	).map(({ id }) => id);
const file = (paperId: string, itemId: string, slot: string | null = null, by = firm.odalys()) =>
	desk((tx) => fileArrival(tx, by, { paperId, itemId, slot }));
const stateOf = async (id: string) => (await desk((tx) => readItem(tx, firm.odalys(), id))).state;
const chased = async (id: string) => (await context.owner.query('select next_chase_on from item where id = $1', [id])).rows[0].next_chase_on !== null;
const waiting = () => desk(async (tx) => (await countRounds(tx, await loadFirm(tx), context.clock.now())).arrivals);

describe('sent without being asked', () => {
	test('it waits in Rounds, is what they say that it is, and can be taken back until it has its place', async () => {
		const id = await send('letter.pdf');
		await client.run((tx) => noteArrival(tx, client.mara(), { paperId: id, note: 'from the tax office' }));
		expect(await waiting()).toBe(1);
		expect(await client.run((tx) => readOwnArrivals(tx, client.mara()))).toMatchObject([
			{ name: 'letter.pdf', note: 'from the tax office', waits: true, filedUnder: null }
		]);
		const [item] = await ask([{}]);
		await file(id, item);
		expect(await client.run((tx) => readOwnArrivals(tx, client.mara()))).toMatchObject([{ waits: false, filedUnder: 'Paper 0' }]);
		await expect(client.run((tx) => takeBackArrival(tx, client.mara(), id))).rejects.toMatchObject({ code: 'changed_meanwhile' });
		const second = await send('mistake.pdf');
		await client.run((tx) => takeBackArrival(tx, client.mara(), second));
		expect(await waiting()).toBe(0);
		await expect(file(second, item)).rejects.toThrow('mistake.pdf was taken back by who sent it.');
	});
	test('for nobody else’s client, for none that is closed, nothing that cannot be shown, and not without end', async () => {
		const other = await makeClient(context, firm, { name: 'Somebody else' });
		await expect(send('x.pdf', '%PDF-1.7', client, other.id)).rejects.toMatchObject({ code: 'not_found' });
		await expect(send('x.html', '<html><script>')).rejects.toMatchObject({ code: 'unreadable_file' });
		await expect(send('x.pdf', '')).rejects.toMatchObject({ code: 'unreadable_file' });
		await context.owner.query(`update client set state = 'locked' where id = $1`, [client.id]);
		await expect(send('x.pdf')).rejects.toMatchObject({ code: 'changed_meanwhile' });
		await context.owner.query(`update client set state = 'active' where id = $1`, [client.id]);
		const id = await send('one.pdf');
		await context.owner.query(
			`insert into paper (id, firm_id, client_id, name, bytes, sha256, content_type, storage_key, uploaded_by_contact_id, uploaded_at, unasked)
			select gen_random_uuid(), firm_id, client_id, name, bytes, sha256, content_type, gen_random_uuid()::text, uploaded_by_contact_id, uploaded_at, true
			from paper, generate_series(2, $2) where id = $1`,
			[id, WAITING_MOST]
		);
		await expect(send('more.pdf')).rejects.toMatchObject({ code: 'too_many' });
	});
	test('what one of a client sent is not another one’s to read, note or take back', async () => {
		const id = await send('mine.pdf');
		const tobiasId = await desk((tx) =>
			addContact(tx, firm.odalys(), {
				clientId: client.id,
				knownId: null,
				name: 'Tobias Quay',
				email: 'tobias@gullstring.example',
				phone: null,
				role: '',
				channels: 'email'
			})
		);
		const tobias = { ...client.mara(), id: tobiasId, name: 'Tobias Quay' };
		const as = <T>(work: (tx: Tx) => Promise<T>) => context.db.inFirm(firm.id, work, tobias.id!);
		for (const work of [
			(tx: Tx) => openPaper(tx, tobias, id, 'look'),
			(tx: Tx) => takeBackArrival(tx, tobias, id),
			(tx: Tx) => noteArrival(tx, tobias, { paperId: id, note: 'x' })
		])
			await expect(as<unknown>(work)).rejects.toMatchObject({ code: 'not_found' });
		expect(await as((tx) => readOwnArrivals(tx, tobias))).toEqual([]);
		await client.run((tx) => openPaper(tx, client.mara(), id, 'look'));
	});
});

describe('filed', () => {
	test('under what is open it hands that in, nobody is reminded of it, and the history says who; taken out, it is asked as before', async () => {
		const [item] = await ask([{}]);
		expect(await chased(item)).toBe(true);
		const id = await send('april.pdf');
		await file(id, item, null, { ...firm.odalys(), role: 'filing' });
		expect([await stateOf(item), await chased(item), await waiting()]).toEqual(['handed_in', false, 0]);
		expect((await desk((tx) => readItem(tx, firm.odalys(), item))).papers.map(({ name }) => name)).toEqual(['april.pdf']);
		const { rows } = await context.owner.query(`select verb from event where item_id = $1 and verb in ('paper_filed', 'item_filed') order by id`, [
			item
		]);
		expect(rows.map(({ verb }) => verb)).toEqual(['paper_filed', 'item_filed']);
		await desk((tx) => unfileArrival(tx, firm.odalys(), id));
		expect([await stateOf(item), await chased(item), await waiting()]).toEqual(['asked', true, 1]);
	});
	test('where several files are named, it is handed in once all are there, and each is of its kind', async () => {
		const [item] = await ask([
			{
				spec: {
					slots: [
						{ name: 'T4 slips', accepts: 'pdf' },
						{ name: 'Time sheets', accepts: 'any' }
					],
					statementsOf: 'none'
				}
			}
		]);
		const [slips, sheets] = [await send('slips.txt', 'Slips.'), await send('sheets.pdf')];
		await expect(file(slips, item, 'T4 slips')).rejects.toMatchObject({ code: 'unreadable_file' });
		await expect(file(slips, item, 'no such file')).rejects.toMatchObject({ code: 'not_found' });
		await file(sheets, item, 'Time sheets');
		expect(await stateOf(item)).toBe('asked');
		await file(await send('slips.pdf'), item, 'T4 slips');
		expect(await stateOf(item)).toBe('handed_in');
	});
	test('of two who file it at once one is told; it goes under nothing that is settled or another client’s', async () => {
		const [one, two] = await ask([{}, {}]);
		const id = await send('x.pdf');
		const done = await Promise.allSettled([file(id, one), file(id, two)]);
		expect(done.filter(({ status }) => status === 'fulfilled')).toHaveLength(1);
		expect(done.find(({ status }) => status === 'rejected')).toMatchObject({ reason: { code: 'changed_meanwhile' } });
		const other = await makeClient(context, firm, { name: 'Somebody else' });
		const theirs = await send('theirs.pdf', '%PDF-1.7', other);
		await expect(file(theirs, two)).rejects.toMatchObject({ code: 'not_found' });
		const [third] = await ask([{}]);
		await context.owner.query(`update item set state = 'waived' where id = $1`, [third]);
		await expect(file(await send('y.pdf'), third)).rejects.toMatchObject({ code: 'changed_meanwhile' });
	});
	test('what was accepted or sent back meanwhile is not taken out under anybody’s hands; what accepts itself is', async () => {
		const [looked, itself] = await ask([{}, { acceptsItself: true }]);
		const [a, b] = [await send('a.pdf'), await send('b.pdf')];
		await file(a, looked);
		await file(b, itself);
		expect(await stateOf(itself)).toBe('accepted');
		await desk((tx) => unfileArrival(tx, firm.odalys(), b));
		expect(await stateOf(itself)).toBe('asked');
		const version = async () => (await desk((tx) => readItem(tx, firm.odalys(), looked))).version;
		const seen = await version();
		await desk((tx) => acceptItem(tx, firm.odalys(), { itemId: looked, version: seen }));
		await expect(desk((tx) => unfileArrival(tx, firm.odalys(), a))).rejects.toMatchObject({ code: 'changed_meanwhile' });
	});
	test('put away it needs no place, and comes back', async () => {
		const id = await send('advert.pdf');
		await desk((tx) => putAwayArrival(tx, firm.odalys(), id));
		expect(await waiting()).toBe(0);
		expect(await desk((tx) => readDealtArrivals(tx, firm.odalys()))).toMatchObject([{ id, itemId: null }]);
		await expect(desk((tx) => putAwayArrival(tx, firm.odalys(), id))).rejects.toMatchObject({ code: 'changed_meanwhile' });
		await desk((tx) => unfileArrival(tx, firm.odalys(), id));
		expect(await waiting()).toBe(1);
	});
	test('nobody files for a client that is closed to them, and a client files nothing', async () => {
		const id = await send('x.pdf');
		const [item] = await ask([{}]);
		await expect(file(id, item, null, client.mara())).rejects.toMatchObject({ code: 'not_allowed' });
		const as = <T>(who: string, work: (tx: Tx) => Promise<T>) => asStaff(context.db, who).inFirm(firm.id, work);
		const close = (rights: { id: string; level: 'see' }[]) =>
			as(firm.coordinator.id!, (tx) => changeClientRights(tx, firm.odalys(), { clientId: client.id, restricted: true, rights }));
		await context.owner.query(`update staff set role = 'bookkeeper' where id = $1`, [firm.partner.id]);
		const imre = { ...firm.partner, role: 'bookkeeper' as const };
		const asImre = <T>(work: (tx: Tx) => Promise<T>) => as(imre.id!, work);
		await close([]);
		await expect(asImre((tx) => readArrival(tx, imre, id))).rejects.toMatchObject({ code: 'not_found' });
		await expect(asImre((tx) => putAwayArrival(tx, imre, id))).rejects.toMatchObject({ code: 'not_found' });
		await close([{ id: imre.id!, level: 'see' }]);
		await expect(asImre((tx) => putAwayArrival(tx, imre, id))).rejects.toMatchObject({ code: 'not_allowed' });
		const other = await makeFirm(context);
		await expect(other.run((tx) => readArrival(tx, other.odalys(), id))).rejects.toMatchObject({ code: 'not_found' });
	});
});

describe('where it seems to belong', () => {
	test('is found by the words in it, with the reasons; the same file twice is said', async () => {
		const [item] = await ask([{ title: 'Statement of the harbour account' }, { title: 'The lease' }]);
		await context.owner.query(
			`with a as (insert into account (id, firm_id, client_id, kind, institution, last_four, currency, closing_day, noted_by_id, noted_at)
				values (gen_random_uuid(), $2, $3, 'bank', 'Harbour Union', '7710', 'CAD', 31, $4, now()) returning id)
			update item set account_id = (select id from a), period_from = '2026-04-01', period_to = '2026-04-30' where id = $1`,
			[item, firm.id, client.id, firm.coordinator.id]
		);
		const pdf = await PDFDocument.create();
		const page = pdf.addPage([400, 300]);
		page.drawText('Harbour Union', { x: 20, y: 260, size: 14 });
		page.drawText('Account 0020 447710', { x: 20, y: 230, size: 11 });
		page.drawText('Statement period 1 April to 30 April 2026', { x: 20, y: 210, size: 11 });
		const bytes = await pdf.save();
		const id = await send('scan0012.pdf', bytes);
		expect((await desk((tx) => readArrival(tx, firm.odalys(), id))).read).toBeNull();
		await readPaper(context, firm.id, id);
		await send('scan0012 (2).pdf', bytes);
		const found = await desk((tx) => readArrival(tx, firm.odalys(), id));
		expect(found.proposed).toMatchObject({
			itemId: item,
			signs: [{ says: 'it is a statement of Harbour Union ··7710' }, { says: 'it covers 1 April 2026 to 30 April 2026' }]
		});
		expect(found.same.map(({ name }) => name)).toEqual(['scan0012 (2).pdf']);
		expect(found.read).toBe(true);
		expect((await desk((tx) => readArrivalsWithPlaces(tx, 10, null))).map(({ seems }) => seems)).toContain('Statement of the harbour account');
	});
	test('of what has no words, is damaged, or is no PDF nothing is read, and nothing breaks', async () => {
		const empty = await PDFDocument.create();
		empty.addPage();
		for (const [name, content] of [
			['scan.pdf', await empty.save()],
			['broken.pdf', '%PDF-1.7 nonsense'],
			['notes.txt', 'Notes.']
		] as const) {
			const id = await send(name, content);
			await readPaper(context, firm.id, id);
			expect((await desk((tx) => readArrival(tx, firm.odalys(), id))).read, name).toBe(false);
		}
	});
});

describe('several at once', () => {
	test('are kept in the folder of one name of each client, or put away: all or none', async () => {
		const other = await makeClient(context, firm);
		const [mine, theirs, third] = [await send('a.pdf'), await send('b.pdf', undefined, other), await send('c.pdf')];
		await expect(desk((tx) => dealWithArrivals(tx, client.mara(), [mine]))).rejects.toMatchObject({ code: 'not_allowed' });
		await expect(desk((tx) => dealWithArrivals(tx, firm.odalys(), []))).rejects.toMatchObject({ code: 'invalid' });
		expect(await desk((tx) => dealWithArrivals(tx, firm.odalys(), [mine, theirs, mine], { name: 'Tax' }))).toBe(2);
		const { rows } = await context.owner.query('select f.name, f.client_id from paper p join folder f on f.id = p.folder_id where p.id = any ($1)', [
			[mine, theirs]
		]);
		expect(rows.map(({ name }) => name)).toEqual(['Tax', 'Tax']);
		expect(new Set(rows.map(({ client_id }) => client_id)).size).toBe(2);
		// somebody was faster with one of them: the other one waits as before
		await expect(desk((tx) => dealWithArrivals(tx, firm.odalys(), [third, mine]))).rejects.toMatchObject({ code: 'changed_meanwhile' });
		expect(await waiting()).toBe(1);
		expect(await desk((tx) => dealWithArrivals(tx, firm.odalys(), [third]))).toBe(1);
		expect(await waiting()).toBe(0);
	});
	test('are named by a pattern in their order, each after its own client; what is dealt with meanwhile stops all of it', async () => {
		const other = await makeClient(context, firm, { name: 'Heron & Pike' });
		const [mine, theirs, third] = [await send('IMG_1.pdf'), await send('scan.PDF', undefined, other), await send('c.pdf')];
		const name = (pattern: string, ids: string[], actor = firm.odalys()) => desk((tx) => nameArrivals(tx, actor, ids, pattern));
		expect(await name('{number} {client} {came}', [theirs, mine], firm.filing)).toBe(2);
		const called = async () =>
			(await context.owner.query('select name from paper where id = any ($1) order by array_position($1, id)', [[theirs, mine, third]])).rows.map(
				(row) => row.name
			);
		expect(await called()).toEqual(['1 Heron & Pike 2026-05-04.PDF', '2 Gull & String Kites 2026-05-04.pdf', 'c.pdf']);
		await expect(name('{nmae}', [mine])).rejects.toMatchObject({ code: 'invalid' });
		await desk((tx) => dealWithArrivals(tx, firm.odalys(), [mine]));
		await expect(name('x', [third, mine])).rejects.toMatchObject({ code: 'changed_meanwhile' });
		expect((await called())[2]).toBe('c.pdf');
		await expect(desk((tx) => nameArrivals(tx, client.mara(), [third], 'x'))).rejects.toMatchObject({ code: 'not_allowed' });
	});
});
