import { randomUUID } from 'node:crypto';
import { Readable } from 'node:stream';
import { describe, expect, test } from 'vitest';
import { announceRequests, readAnnouncements } from '../announcements/announce-requests';
import { mergeClients } from '../clients/merge';
import { loadFirm } from '../firms/firm';
import type { Tx } from '../platform/db/database';
import { sendRequest } from '../requests/send-request';
import { makeClient, makeFirm, paperLine, requestTo, sendPlanned } from '../testing/test-firm';
import { client, context, firm, useFirm } from '../testing/use-firm';
import { keepArrival, takeInArrival, unfileArrival } from './arrivals';
import { readPaperPage, readPapers } from './client-papers';
import { changeFolder, changeProposedFolders, firstFolders, readFolders, removeFolder } from './folders';
import { countNewPapers, readFoldersToAddTo, readShownPapers } from './papers-for-client';
import { openPaper, removePaper } from './papers';
import {
	bringBackPapers,
	describePaper,
	givePaper,
	hidePapers,
	movePapers,
	putAwayPapers,
	renamePapers,
	showPapers,
	takeOutPapers,
	type Showing
} from './shared-papers';

useFirm();

const desk = <T>(work: (tx: Tx) => Promise<T>) => firm.run(work);
const content = (name: string) => Readable.from([Buffer.from(`%PDF-1.7 ${name}`)]);
const give = async (name: string, more: { folder?: string | null; showing?: Showing; versionOf?: string } = {}) =>
	(
		await givePaper(context, firm.id, firm.odalys(), {
			clientId: client.id,
			name,
			content: content(name),
			folder: more.folder ? { name: more.folder } : null,
			showing: more.showing ?? 'no',
			versionOf: more.versionOf
		})
	).id;
const of = (...paperIds: string[]) => ({ clientId: client.id, paperIds });
const show = (tell: boolean, ...ids: string[]) => desk((tx) => showPapers(tx, firm.odalys(), { ...of(...ids), tell }));
const seen = async (typed = '') => (await client.run((tx) => readShownPapers(tx, client.mara(), typed))).map(({ name }) => name);
const papers = async () => (await desk((tx) => readPapers(tx, firm.odalys(), { clientId: client.id }))).papers;
const folderNamed = async (name: string) => (await desk((tx) => readFolders(tx, firm.odalys(), client.id))).folders.find((one) => one.name === name)!;
const open = (id: string) => client.run((tx) => openPaper(tx, client.mara(), id, 'download'));
const announce = async () => {
	await announceRequests(context.db, firm.id, context.clock.now());
	await sendPlanned(context, firm);
};
const mails = () => context.mailer.sent.filter(({ to }) => to.address === client.email);

/** A second person of the client. */
async function tobias() {
	const id = randomUUID();
	await context.owner.query(
		`insert into contact (id, firm_id, name, email, password_hash, created_at) values ($1, $2, 'Tobias Quay', $3, 'x', now())`,
		[id, firm.id, `${id}@client.example`]
	);
	await context.owner.query('insert into client_contact (firm_id, client_id, contact_id, role, rank) values ($1, $2, $3, $4, 2)', [
		firm.id,
		client.id,
		id,
		'partner'
	]);
	const actor = { ...client.mara(), id, name: 'Tobias Quay' };
	return { id, actor, run: <T>(work: (tx: Tx) => Promise<T>) => context.db.inFirm(firm.id, work, id) };
}

describe('what the firm adds', () => {
	test('is for the firm only until it is shown, and again once it is hidden', async () => {
		const id = await give('return 2025.pdf');
		expect(await seen()).toEqual([]);
		await expect(open(id)).rejects.toMatchObject({ code: 'not_found' });
		await show(false, id);
		expect(await seen()).toEqual(['return 2025.pdf']);
		expect((await open(id)).name).toBe('return 2025.pdf');
		expect(await show(false, id)).toEqual({ shown: 0, closed: 0 });
		expect(await desk((tx) => hidePapers(tx, firm.odalys(), of(id)))).toBe(1);
		expect(await seen()).toEqual([]);
		await expect(open(id)).rejects.toMatchObject({ code: 'not_found' });
		const { history, seenBy } = await desk((tx) => readPaperPage(tx, firm.odalys(), client.id, id));
		expect(history.map(({ verb }) => verb)).toEqual(['paper_hidden', 'paper_downloaded', 'paper_shown', 'paper_given']);
		expect(seenBy).toEqual([]);
	});
	test('is not there for a contact’s own statements either, and never theirs to change', async () => {
		const id = await give('ours.pdf');
		const rows = () => client.run((tx) => tx.rows('select id from paper where id = $1', [id]));
		expect(await rows()).toEqual([]);
		await show(false, id);
		expect(await rows()).toHaveLength(1);
		await expect(client.run((tx) => tx.rows(`update paper set name = 'mine' where id = $1`, [id]))).rejects.toThrow(/row-level security/);
		await expect(
			client.run((tx) => removePaper(tx, client.mara(), { itemId: '11111111-1111-4111-8111-111111111111', paperId: id }))
		).rejects.toMatchObject({ code: 'not_found' });
	});
	test('a folder that is closed keeps what is shown in it from the client, one for some from the others', async () => {
		const id = await give('payroll.pdf', { folder: 'Payroll', showing: 'quietly' });
		const other = await tobias();
		const theirs = () => other.run((tx) => readShownPapers(tx, other.actor));
		const folder = await folderNamed('Payroll');
		expect([await seen(), (await theirs()).length]).toEqual([['payroll.pdf'], 1]);
		const change = (clientMay: 'nothing' | 'see' | 'add', contactIds: string[] | null) =>
			desk((tx) => changeFolder(tx, firm.odalys(), folder.id, { name: 'Payroll', clientMay, contactIds, keepYears: null }));
		await change('see', [other.id]);
		expect([await seen(), (await theirs()).length]).toEqual([[], 1]);
		await expect(open(id)).rejects.toMatchObject({ code: 'not_found' });
		expect((await desk((tx) => readPaperPage(tx, firm.odalys(), client.id, id))).seenBy.map(({ name }) => name)).toEqual(['Tobias Quay']);
		await change('nothing', null);
		expect([await seen(), (await theirs()).length]).toEqual([[], 0]);
		await expect(other.run((tx) => openPaper(tx, other.actor, id, 'download'))).rejects.toMatchObject({ code: 'not_found' });
		expect((await papers())[0]).toMatchObject({ shown: true, closed: true });
		await expect(change('see', [])).rejects.toMatchObject({ code: 'invalid' });
	});
	test('is shown by whoever may, to nobody of another client, and not by a person who only files', async () => {
		const filing = { ...firm.odalys(), role: 'filing' as const };
		const id = await give('tax.pdf');
		await expect(desk((tx) => showPapers(tx, filing, { ...of(id), tell: false }))).rejects.toMatchObject({ code: 'not_allowed' });
		await expect(desk((tx) => hidePapers(tx, filing, of(id)))).rejects.toMatchObject({ code: 'not_allowed' });
		await expect(
			givePaper(context, firm.id, filing, { clientId: client.id, name: 'x.pdf', content: content('x'), folder: null, showing: 'told' })
		).rejects.toMatchObject({ code: 'not_allowed' });
		await show(false, id);
		await expect(desk((tx) => movePapers(tx, filing, { ...of(id), folder: { name: 'Elsewhere' } }))).rejects.toMatchObject({ code: 'not_allowed' });
		const stranger = await makeClient(context, firm, { name: 'Quay Boats' });
		expect(await stranger.run((tx) => readShownPapers(tx, stranger.mara()))).toEqual([]);
		await expect(desk((tx) => showPapers(tx, firm.odalys(), { clientId: stranger.id, paperIds: [id], tell: false }))).rejects.toMatchObject({
			code: 'not_found'
		});
		const elsewhere = await makeFirm(context);
		await expect(elsewhere.run((tx) => readPaperPage(tx, elsewhere.odalys(), client.id, id))).rejects.toMatchObject({ code: 'not_found' });
	});
});

describe('telling', () => {
	test('papers of one day go in one message, what is hidden or opened before is not in it', async () => {
		const [a, b, c, d] = [await give('a.pdf'), await give('b.pdf'), await give('c.pdf'), await give('quiet.pdf')];
		await show(true, a, b, c);
		await show(false, d);
		await desk((tx) => hidePapers(tx, firm.odalys(), of(b)));
		await open(c);
		const [next] = await desk(async (tx) => readAnnouncements(tx, firm.odalys(), await loadFirm(tx)));
		expect(next).toMatchObject({ contactName: 'Mara Whitlock', things: 0 });
		await announce();
		await announce();
		expect(mails().map(({ subject }) => subject)).toEqual(['A paper for you']);
		expect(mails()[0].text).toContain('a.pdf');
		expect(mails()[0].text).not.toMatch(/b\.pdf|c\.pdf|quiet\.pdf/);
		expect(mails()[0].text).toContain('/papers');
		expect(await client.run((tx) => countNewPapers(tx, client.mara()))).toBe(2);
	});
	test('with what is asked on that day, not beside it; on a day on which they heard something, the next day', async () => {
		await show(true, await give('plan.pdf'));
		await sendRequest(context, firm.id, firm.odalys(), requestTo(client, [paperLine('Lease', '2026-05-20')], { title: 'Lease' }));
		await announce();
		expect(mails()).toHaveLength(1);
		expect(mails()[0].text).toMatch(/Lease[\s\S]*plan\.pdf/);
		await show(true, await give('later.pdf'));
		await announce();
		expect(mails()).toHaveLength(1);
		context.clock.set('2026-05-05T13:00:00Z');
		await announce();
		expect(mails().map(({ subject }) => subject)).toEqual(['Lease', 'A paper for you']);
	});
	test('nobody is told of what a folder keeps from them, also when it is closed after it was shown', async () => {
		const other = await tobias();
		await give('secret.pdf', { folder: 'Owners' });
		const folder = await folderNamed('Owners');
		await desk((tx) => changeFolder(tx, firm.odalys(), folder.id, { name: 'Owners', clientMay: 'see', contactIds: [other.id], keepYears: null }));
		const [{ id }] = await papers();
		await show(true, id);
		await announce();
		expect(mails()).toEqual([]);
		expect(context.mailer.sent).toHaveLength(1);
		await desk((tx) => hidePapers(tx, firm.odalys(), of(id)));
		context.clock.set('2026-05-06T13:00:00Z');
		await show(true, id);
		await desk((tx) => changeFolder(tx, firm.odalys(), folder.id, { name: 'Owners', clientMay: 'nothing', contactIds: null, keepYears: null }));
		await announce();
		expect(context.mailer.sent).toHaveLength(1);
	});
	test('what was hidden between planning and sending is not named', async () => {
		const id = await give('oops.pdf', { showing: 'told' });
		await announceRequests(context.db, firm.id, context.clock.now());
		await desk((tx) => hidePapers(tx, firm.odalys(), of(id)));
		await sendPlanned(context, firm);
		expect(mails()).toEqual([]);
		const { rows } = await context.owner.query(`select state from message where firm_id = $1 and kind = 'papers_shown'`, [firm.id]);
		expect(rows).toMatchObject([{ state: 'held_back' }]);
	});
});

describe('folders', () => {
	test('the scheme proposes, and opens as it says; another name opens as most do', async () => {
		await desk((tx) => changeProposedFolders(tx, firm.odalys(), firstFolders()));
		expect((await desk((tx) => readFolders(tx, firm.odalys(), client.id))).proposed).toContain('Working papers');
		await give('calc.pdf', { folder: 'working papers' });
		await give('misc.pdf', { folder: 'Misc' });
		const { folders, proposed } = await desk((tx) => readFolders(tx, firm.odalys(), client.id));
		expect(folders.map(({ name, clientMay, papers: n }) => [name, clientMay, n])).toEqual([
			['Misc', 'see', 1],
			['Working papers', 'nothing', 1]
		]);
		expect(proposed).not.toContain('Working papers');
		await expect(desk((tx) => changeProposedFolders(tx, firm.odalys(), [...firstFolders(), ...firstFolders()]))).rejects.toMatchObject({
			code: 'invalid'
		});
	});
	test('one with papers in it stays; an empty one goes', async () => {
		const id = await give('a.pdf', { folder: 'Old' });
		const { id: folderId } = await folderNamed('Old');
		await expect(desk((tx) => removeFolder(tx, firm.odalys(), folderId))).rejects.toMatchObject({ code: 'changed_meanwhile' });
		await desk((tx) => movePapers(tx, firm.odalys(), { ...of(id), folder: null }));
		await desk((tx) => removeFolder(tx, firm.odalys(), folderId));
		expect(await folderNamed('Old')).toBeUndefined();
	});
	test('a client adds to a folder that is open for it: it waits in Arrivals and lies there', async () => {
		await give('first.pdf', { folder: 'Bank' });
		const bank = await folderNamed('Bank');
		const put = (folderId: string) =>
			takeInArrival(context, firm.id, client.mara(), { clientId: client.id, folderId, name: 'april.pdf', content: content('april') });
		await expect(put(bank.id)).rejects.toMatchObject({ code: 'not_found' });
		await desk((tx) => changeFolder(tx, firm.odalys(), bank.id, { name: 'Bank', clientMay: 'add', contactIds: null, keepYears: null }));
		expect((await client.run((tx) => readFoldersToAddTo(tx, client.mara()))).map(({ name }) => name)).toEqual(['Bank']);
		const { id } = await put(bank.id);
		expect(await seen()).toEqual(['april.pdf']);
		expect((await papers()).find((one) => one.id === id)).toMatchObject({ place: 'waits', folder: 'Bank', shown: false });
		await desk((tx) => keepArrival(tx, firm.odalys(), id));
		expect(await seen()).toEqual(['april.pdf']);
		const other = await tobias();
		expect(await other.run((tx) => readShownPapers(tx, other.actor))).toEqual([]);
	});
	test('two clients become one: what was in folders of the same name stays apart, with its rights', async () => {
		const other = await makeClient(context, firm, { name: 'Quay Boats' });
		await give('ours.pdf', { folder: 'Tax', showing: 'quietly' });
		await givePaper(context, firm.id, firm.odalys(), {
			clientId: other.id,
			name: 'theirs.pdf',
			content: content('theirs'),
			folder: { name: 'tax' },
			showing: 'quietly'
		});
		await desk((tx) => mergeClients(tx, firm.odalys(), { keepId: client.id, goneId: other.id, take: [] }));
		const { folders } = await desk((tx) => readFolders(tx, firm.odalys(), client.id));
		expect(folders.map(({ name, papers: n }) => [name, n])).toEqual([
			['Tax', 1],
			['tax (Quay Boats)', 1]
		]);
	});
});

test('versions: the newest stands for all, lies where they lay, and those before can be read', async () => {
	const first = await give('plan.pdf', { folder: 'Tax', showing: 'quietly' });
	context.clock.set('2026-05-04T14:00:00Z');
	const second = await give('plan v2.pdf', { versionOf: first });
	expect((await papers()).map(({ name, earlier, folder }) => [name, earlier, folder])).toEqual([['plan v2.pdf', 1, 'Tax']]);
	expect(await seen()).toEqual([]);
	await show(false, second);
	context.clock.set('2026-05-04T14:30:00Z');
	const third = await give('plan v3.pdf', { versionOf: second, showing: 'quietly' });
	const { versions } = await desk((tx) => readPaperPage(tx, firm.odalys(), client.id, first));
	expect(versions.map(({ name }) => name)).toEqual(['plan v3.pdf', 'plan v2.pdf', 'plan.pdf']);
	const [shown] = await client.run((tx) => readShownPapers(tx, client.mara()));
	expect([shown.id, shown.earlier.map(({ name }) => name)]).toEqual([third, ['plan v2.pdf', 'plan.pdf']]);
	await expect(give('late.pdf', { versionOf: second })).rejects.toMatchObject({ code: 'changed_meanwhile' });
});

describe('many at once', () => {
	test('named by a pattern, each keeping its ending, in the order in which they were chosen', async () => {
		const [a, b] = [await give('scan1.pdf', { folder: 'Tax' }), await give('scan2.pdf')];
		expect(await desk((tx) => renamePapers(tx, firm.odalys(), { ...of(b, a), pattern: '{came} {client} {folder} {number}' }))).toBe(2);
		expect(Object.fromEntries((await papers()).map(({ id, name }) => [id, name]))).toEqual({
			[b]: '2026-05-04 Gull & String Kites 1.pdf',
			[a]: '2026-05-04 Gull & String Kites Tax 2.pdf'
		});
		await expect(desk((tx) => renamePapers(tx, firm.odalys(), { ...of(a), pattern: '{nobody}' }))).rejects.toMatchObject({ code: 'invalid' });
		await desk((tx) => describePaper(tx, firm.odalys(), { clientId: client.id, paperId: a, name: 'a/b {name}', note: 'for the bank' }));
		expect((await papers()).find(({ id }) => id === a)).toMatchObject({ name: 'a-b {name}.pdf', note: 'for the bank' });
	});
	test('put away they are seen by nobody of the client, and come back for the firm only', async () => {
		const id = await give('old.pdf', { showing: 'told' });
		await desk((tx) => putAwayPapers(tx, firm.odalys(), of(id)));
		await announce();
		expect([await seen(), mails().length, (await papers())[0].place]).toEqual([[], 0, 'away']);
		await expect(show(false, id)).rejects.toMatchObject({ code: 'changed_meanwhile' });
		expect(await desk((tx) => bringBackPapers(tx, firm.odalys(), of(id)))).toBe(1);
		expect([await seen(), (await papers())[0].place]).toEqual([[], 'kept']);
	});
	test('what came from the client is put away and brought back among the kept; what waits for its place is for Arrivals', async () => {
		const { id } = await takeInArrival(context, firm.id, client.mara(), { clientId: client.id, name: 'letter.pdf', content: content('letter') });
		await expect(show(false, id)).rejects.toMatchObject({ code: 'changed_meanwhile' });
		await desk((tx) => keepArrival(tx, firm.odalys(), id));
		await show(false, id);
		await desk((tx) => putAwayPapers(tx, firm.odalys(), of(id)));
		await desk((tx) => bringBackPapers(tx, firm.odalys(), of(id)));
		expect((await papers())[0]).toMatchObject({ place: 'kept', shown: false });
		await show(false, id);
		await desk((tx) => unfileArrival(tx, firm.odalys(), id));
		expect((await papers())[0]).toMatchObject({ place: 'waits' });
		// back in Arrivals it is nobody's to see but who sent it
		const other = await tobias();
		await expect(other.run((tx) => openPaper(tx, other.actor, id, 'download'))).rejects.toMatchObject({ code: 'not_found' });
	});
	test('one that is gone stops all of it; nothing is half done', async () => {
		const [a, b] = [await give('a.pdf'), await give('b.pdf')];
		await context.owner.query('update paper set removed_at = now() where id = $1', [b]);
		await expect(show(false, a, b)).rejects.toMatchObject({ code: 'not_found' });
		expect((await papers())[0].shown).toBe(false);
		await expect(show(false)).rejects.toMatchObject({ code: 'invalid' });
	});
	test('taken out together, each is noted', async () => {
		const [a, b] = [await give('a.pdf', { folder: 'Tax' }), await give('b.pdf')];
		const out = await desk((tx) => takeOutPapers(tx, firm.odalys(), of(a, b)));
		expect(out.map(({ name, folder }) => [folder, name])).toEqual([
			['', 'b.pdf'],
			['Tax', 'a.pdf']
		]);
		expect(await desk((tx) => takeOutPapers(tx, firm.odalys(), { clientId: client.id, paperIds: 'all' }))).toHaveLength(2);
		const { rows } = await context.owner.query(`select count(*)::int n from event where firm_id = $1 and verb = 'paper_downloaded'`, [firm.id]);
		expect(rows[0].n).toBe(4);
	});
});

test('what is fetched in parts is noted once in an hour; whoever starts anew is noted anew', async () => {
	const id = await give('Accounts 2025.pdf', { showing: 'quietly' });
	const fetch = (goesOn: boolean) => client.run((tx) => openPaper(tx, client.mara(), id, 'download', { goesOn }));
	const noted = async () => (await context.owner.query(`select 1 from event where paper_id = $1 and verb = 'paper_downloaded'`, [id])).rowCount;
	// a part alone does not slip by
	await fetch(true);
	expect(await noted()).toBe(1);
	for (const goesOn of [true, true, false, true]) await fetch(goesOn);
	expect(await noted()).toBe(2);
	context.clock.set(new Date(Date.parse(context.clock.now()) + 61 * 60_000).toISOString());
	await fetch(true);
	expect(await noted()).toBe(3);
});

describe('search', () => {
	const find = async (typed: string, more: object = {}) =>
		(await desk((tx) => readPapers(tx, firm.odalys(), { clientId: null, typed, ...more }))).papers.map(({ name }) => name).toSorted();
	test('over all clients, by other forms of a word in its language, by sums however they are written, and by author', async () => {
		const a = await give('scan 7.pdf', { folder: 'Tax' });
		const b = await give('releve.pdf');
		await context.owner.query(
			`update paper set first_words = 'Invoices for companies, in total 12,345.60, thousand 4’200.00 of it paid', language = 'en' where id = $1`,
			[a]
		);
		await context.owner.query(`update paper set first_words = 'Les factures sont payées: 12.345,60', language = 'fr' where id = $1`, [b]);
		for (const typed of ['invoice', 'company', 'INVOICES paid', '4200.00', 'tax scan', 'fenwick invoice'])
			expect(await find(typed), typed).toEqual(['scan 7.pdf']);
		for (const typed of ['facture payée', 'payer', 'relevé']) expect(await find(typed), typed).toEqual(['releve.pdf']);
		for (const typed of ['12345.60', '12.345,60', '12,345.60']) expect(await find(typed), typed).toEqual(['releve.pdf', 'scan 7.pdf']);
		for (const typed of ['345.60', "' | !", '!!!', ':*', 'the lease']) expect(await find(typed), typed).not.toContain('scan 7.pdf');
		const [found] = (await desk((tx) => readPapers(tx, firm.odalys(), { clientId: null, typed: 'invoice' }))).papers;
		expect([found.clientName, found.inside]).toEqual(['Gull & String Kites', 'Invoices for companies, in total 12,345.60, thousand 4’200.00 of …']);
	});
	test('by folder, kind, day and whether the client sees it', async () => {
		await give('a.pdf', { folder: 'Tax', showing: 'quietly' });
		await give('b.pdf');
		context.clock.set('2026-05-09T02:30:00Z');
		await give('c.pdf');
		const { id } = await folderNamed('Tax');
		expect(await find('', { folder: id })).toEqual(['a.pdf']);
		expect(await find('', { folder: 'none' })).toEqual(['b.pdf', 'c.pdf']);
		expect(await find('', { seen: 'client' })).toEqual(['a.pdf']);
		expect(await find('', { seen: 'ours' })).toEqual(['b.pdf', 'c.pdf']);
		expect(await find('', { kind: 'picture' })).toEqual([]);
		// in the time zone of the firm it is the eighth still
		expect(await find('', { from: '2026-05-08', to: '2026-05-08' })).toEqual(['c.pdf']);
		expect(await find('', { from: '2026-05-09' })).toEqual([]);
	});
	test('a client finds their own alone, also by words inside', async () => {
		const [a, b] = [await give('a.pdf', { showing: 'quietly' }), await give('b.pdf')];
		await context.owner.query(`update paper set first_words = 'the depreciation of kites' where id = any ($1)`, [[a, b]]);
		expect(await seen('kite depreciation')).toEqual(['a.pdf']);
		expect(await seen('boats')).toEqual([]);
	});
	test('follows when a person, an item or a folder is renamed', async () => {
		await give('a.pdf', { folder: 'Tax' });
		const folder = await folderNamed('Tax');
		await desk((tx) => changeFolder(tx, firm.odalys(), folder.id, { name: 'Levies', clientMay: 'see', contactIds: null, keepYears: null }));
		expect([await find('levies'), await find('tax')]).toEqual([['a.pdf'], []]);
	});
});
