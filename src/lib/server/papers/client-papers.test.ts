import { Readable } from 'node:stream';
import { expect, test } from 'vitest';
import { changeClientRights } from '../clients/client-rights';
import { handInPapers } from '../item-kinds/kinds/paper';
import { asStaff, type Tx } from '../platform/db/database';
import { sendRequest } from '../requests/send-request';
import { itemsOf, makeClient, makeFirm, paperLine, requestTo } from '../testing/test-firm';
import { client, context, firm, useFirm } from '../testing/use-firm';
import { fileArrival, keepArrival, noteArrival, putAwayArrival, takeInArrival } from './arrivals';
import { countClientPapers, readPapers } from './client-papers';
import { takeInPaper } from './papers';

useFirm();

const desk = <T>(work: (tx: Tx) => Promise<T>) => firm.run(work);
const content = (name: string) => Readable.from([Buffer.from(`%PDF-1.7 ${name}`)]);
const send = async (name: string) => (await takeInArrival(context, firm.id, client.mara(), { clientId: client.id, name, content: content(name) })).id;
const ask = async (title: string) =>
	(await itemsOf(context, await sendRequest(context, firm.id, firm.odalys(), requestTo(client, [paperLine(title, '2026-05-20')]))))[0].id;
const papers = (typed = '') => desk(async (tx) => (await readPapers(tx, firm.odalys(), { clientId: client.id, typed })).papers);
const names = async (typed = '') => (await papers(typed)).map(({ name }) => name);
const count = () => desk((tx) => countClientPapers(tx, firm.odalys(), client.id));

test('every paper that is here, and where it is; what is not handed in yet is not', async () => {
	const item = await ask('Bank statement');
	const added = await takeInPaper(context, firm.id, client.mara(), { itemId: item, name: 'april.pdf', content: content('april') });
	expect(await names()).toEqual([]);
	expect(await count()).toEqual({ here: 0, waiting: 0, shown: 0, lastAt: null });
	await client.run((tx) => handInPapers(tx, client.mara(), { itemId: item, without: false }));
	const [waits, kept, away, filed] = [await send('waits.pdf'), await send('kept.pdf'), await send('away.pdf'), await send('filed.pdf')];
	await desk((tx) => keepArrival(tx, firm.odalys(), kept));
	await desk((tx) => putAwayArrival(tx, firm.odalys(), away));
	const other = await ask('Lease');
	await desk((tx) => fileArrival(tx, firm.odalys(), { paperId: filed, itemId: other, slot: null }));
	const places = Object.fromEntries((await papers()).map(({ id, place, title }) => [id, title ?? place]));
	expect(places).toEqual({ [added.id]: 'Bank statement', [waits]: 'waits', [kept]: 'kept', [away]: 'away', [filed]: 'Lease' });
	expect(await count()).toMatchObject({ here: 5, waiting: 1 });
});

test('looked for by name, note, sender, what it answers and the words inside, case and marks left aside', async () => {
	const id = await send('scan 0012.pdf');
	await send('other.pdf');
	await client.run((tx) => noteArrival(tx, client.mara(), { paperId: id, note: 'from the tax office' }));
	await context.owner.query(`update paper set first_words = 'Relevé de compte no 4471 au 30 avril' where id = $1`, [id]);
	for (const typed of ['SCAN', 'tax office', 'releve 4471', 'scan compte', `${client.mara().name.split(' ')[0]} 0012`])
		expect(await names(typed), typed).toEqual(['scan 0012.pdf']);
	expect(await names('  ')).toHaveLength(2);
	expect((await papers('releve'))[0].inside).toBe('Relevé de compte no 4471 au 30 avril');
	expect((await papers('scan'))[0].inside).toBeNull();
	for (const typed of ['scan lease', '100%', '_', "'; drop table paper; --"]) expect(await names(typed), typed).toEqual([]);
});

test('page by page, none twice', async () => {
	await context.owner.query(
		`insert into paper (id, firm_id, client_id, name, bytes, sha256, content_type, storage_key, uploaded_at, unasked)
		select gen_random_uuid(), $1, $2, 'paper ' || n, 1, sha256('x'), 'application/pdf', gen_random_uuid(), '2026-05-04', true from generate_series(1, 130) n`,
		[firm.id, client.id]
	);
	const seen: string[] = [];
	for (let before: string | null = null, more = true; more;) {
		const page = await desk((tx) => readPapers(tx, firm.odalys(), { clientId: client.id, before }));
		seen.push(...page.papers.map(({ name }) => name));
		[before, more] = [page.papers.at(-1)!.id, page.more];
	}
	expect([seen.length, new Set(seen).size]).toEqual([130, 130]);
});

test('not for a contact, not of another firm, and not of a client whom this person may not see', async () => {
	await send('secret.pdf');
	await expect(client.run((tx) => readPapers(tx, client.mara(), { clientId: client.id }))).rejects.toMatchObject({ code: 'not_allowed' });
	await expect(client.run((tx) => countClientPapers(tx, client.mara(), client.id))).rejects.toMatchObject({ code: 'not_allowed' });
	const other = await makeFirm(context);
	await makeClient(context, other);
	expect((await other.run((tx) => readPapers(tx, other.odalys(), { clientId: null }))).papers).toEqual([]);
	const before = await names();
	expect(before).toEqual(['secret.pdf']);
	await asStaff(context.db, firm.coordinator.id!).inFirm(firm.id, (tx) =>
		changeClientRights(tx, firm.odalys(), { clientId: client.id, restricted: true, rights: [] })
	);
	await context.owner.query(`update staff set role = 'bookkeeper' where id = $1`, [firm.partner.id]);
	const imre = { ...firm.partner, role: 'bookkeeper' as const };
	const unseen = await asStaff(context.db, imre.id!).inFirm(firm.id, (tx) => readPapers(tx, imre, { clientId: null }));
	expect(unseen.papers).toEqual([]);
});
