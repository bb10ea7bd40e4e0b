import { Readable } from 'node:stream';
import Papa from 'papaparse';
import { describe, expect, test } from 'vitest';
import { machine } from '../actor';
import { mergeClients } from '../clients/merge';
import { givePaper, putAwayPapers } from '../papers/shared-papers';
import { makeClient, makeFirm } from '../testing/test-firm';
import { client, context, firm, useFirm } from '../testing/use-firm';
import { keepSurePairs, pairArrived } from './find-pairs';
import { exportPapersOfLines, pairLines, readPapersOfLines, readPapersToChoose, refusePair } from './papers-of-lines';
import { bringInTransactions, removeTransactionFile } from './transaction-files';

useFirm();

const LEDGER = [
	'Date,Payee,Description,Category,Amount,Receipt',
	'2026-04-02,Harbour Hardware,CARD INV-20418,Tools,-84.20,',
	'2026-04-03,Quay Rentals,RENT,Rent,"-1,200.00",',
	'2026-04-07,Seabright Fuel,FUEL,Vehicle,-61.05,fuel.pdf',
	'2026-04-09,M. Whitlock,gift,Sales,350.00,',
	'2026-04-10,Seabright Fuel,=2+2,Vehicle,-50.00,'
].join('\n');

const bring = (content = LEDGER, name = 'april.csv', clientId = client.id) =>
	bringInTransactions(context, firm.id, firm.odalys(), { clientId, accountId: null, name, content: Readable.from([Buffer.from(content)]) });
/** A paper as it is once its words were read. */
async function paper(name: string, words: string | null, clientId = client.id): Promise<string> {
	const { id } = await givePaper(context, firm.id, firm.odalys(), {
		clientId,
		name,
		content: Readable.from([Buffer.from(`%PDF-1.7 ${name}`)]),
		folder: null,
		showing: 'no'
	});
	await context.owner.query('update paper set first_words = $2 where id = $1', [id, words]);
	return id;
}
const look = (fileId: string) => readPapersOfLines(context, firm.id, firm.odalys(), fileId);
const hardware = () => paper('scan 1.pdf', 'Harbour Hardware, invoice INV-20418 of 1 April 2026, total $84.20');
/** What belongs together, in short. */
const short = (page: Awaited<ReturnType<typeof look>>) => ({
	found: page.found.map(({ line, paper, by }) => `${line.who}: ${paper.name}, ${by ?? 'by itself'}`),
	likely: page.likely.map(({ line, paper, sure }) => `${line.who}: ${paper.name}${sure ? '' : '?'}`),
	without: page.without.map(({ who, amount }) => `${who} ${amount}`)
});

describe('papers of lines', () => {
	test('that are sure are found as the file comes, likely ones are proposed, the rest stays to be asked for', async () => {
		await hardware();
		await paper('rent.pdf', 'Quay Rentals: loyer 1 200,00');
		await paper('other.pdf', 'Quay Rentals, 1 April 2026, 1,250.00');
		const page = await look(await bring());
		expect(short(page)).toEqual({
			found: ['Harbour Hardware: scan 1.pdf, by itself'],
			likely: ['Quay Rentals: rent.pdf?'],
			// the ledger names a document for the fuel of the seventh
			without: ['M. Whitlock 350.00', 'Seabright Fuel -50.00']
		});
		expect(page.likely[0].signs.map(({ says }) => says)).toEqual(['1,200.00 stands in it', 'it names Quay']);
		expect([page.wanting, page.paired, page.asked, page.withoutCount]).toEqual([4, 1, 0, 2]);
	});
	test('are said to belong together, or not, for good; the same line of a later file knows', async () => {
		await hardware();
		const rent = await paper('rent.pdf', 'Quay Rentals 1,200.00');
		const file = await bring();
		const { likely, found } = await look(file);
		await firm.run((tx) => pairLines(tx, firm.odalys(), file, [{ lineId: likely[0].lineId, paperId: rent }]));
		await firm.run((tx) => refusePair(tx, firm.odalys(), file, { lineId: found[0].line.id, paperId: found[0].paper.id }));
		const state = {
			found: ['Quay Rentals: rent.pdf, Odalys Fenwick'],
			likely: [],
			without: ['Harbour Hardware -84.20', 'M. Whitlock 350.00', 'Seabright Fuel -50.00']
		};
		expect(short(await look(file))).toEqual(state);
		expect(await keepSurePairs(context, firm.id, firm.odalys(), { id: file, clientId: client.id, name: 'april.csv' })).toBe(0);
		// brought in once more, and the first one taken out
		const again = await bring(LEDGER, 'april again.csv');
		expect(short(await look(again))).toEqual(state);
		await firm.run((tx) => removeTransactionFile(tx, firm.odalys(), file));
		expect(short(await look(again))).toEqual(state);
		// chosen by hand after all
		const line = (await look(again)).without[0].id;
		await firm.run((tx) => pairLines(tx, firm.odalys(), again, [{ lineId: line, paperId: found[0].paper.id }]));
		expect((await look(again)).paired).toBe(2);
	});
	test('come later, and are found then; what is taken away is missing again', async () => {
		const file = await bring();
		expect((await look(file)).paired).toBe(0);
		const id = await hardware();
		await pairArrived(context, firm.id, machine(context.clock.now()), id);
		await pairArrived(context, firm.id, machine(context.clock.now()), id);
		expect(short(await look(file)).found).toEqual(['Harbour Hardware: scan 1.pdf, by itself']);
		const events = await context.owner.query(`select details from event where verb = 'lines_paired' and client_id = $1`, [client.id]);
		expect(events.rows).toEqual([{ details: { count: 1, name: 'april.csv' } }]);
		await context.owner.query('update paper set removed_at = now() where id = $1', [id]);
		expect((await look(file)).paired).toBe(0);
		// what needs no place is no document either
		const other = await hardware();
		await firm.run((tx) => putAwayPapers(tx, firm.odalys(), { clientId: client.id, paperIds: [other] }));
		expect(short(await look(file)).likely).toEqual([]);
	});
	test('a bank names no documents: then what was paid wants one. A statement is the document of no line', async () => {
		await hardware();
		const statement = await paper('statement.pdf', 'Quay Rentals 3 April 2026 1,200.00');
		await context.owner.query(
			`insert into statement (id, firm_id, client_id, paper_id, number, spots) values (gen_random_uuid(), $1, $2, $3, 0, '{}')`,
			[firm.id, client.id, statement]
		);
		const file = await bring(
			'Date,Payee,Amount\n2026-04-02,Harbour Hardware,-84.20\n2026-04-03,Quay Rentals,-1200.00\n2026-04-04,Rosalba,99.00\n',
			'bank.csv'
		);
		expect(short(await look(file))).toEqual({
			found: ['Harbour Hardware: scan 1.pdf, by itself'],
			likely: [],
			without: ['Quay Rentals -1200.00']
		});
		expect((await firm.run((tx) => readPapersToChoose(tx, firm.odalys(), file))).map(({ name }) => name)).toEqual(['scan 1.pdf']);
	});
	test('who was slower is told; what is not theirs is refused', async () => {
		const [rent, other] = [await paper('rent.pdf', 'Quay Rentals 1,200.00'), await paper('b.pdf', null)];
		const file = await bring();
		const line = (await look(file)).likely[0].lineId;
		const pair = (paperId: string, actor = firm.odalys()) => firm.run((tx) => pairLines(tx, actor, file, [{ lineId: line, paperId }]));
		await pair(rent, firm.filing);
		// said once more, and twice in one go, it is the same
		await pair(rent);
		await firm.run((tx) =>
			pairLines(tx, firm.odalys(), file, [
				{ lineId: line, paperId: rent },
				{ lineId: line, paperId: rent }
			])
		);
		await expect(pair(other)).rejects.toMatchObject({ code: 'changed_meanwhile' });
		const second = await makeClient(context, firm);
		await expect(pair(await paper('theirs.pdf', null, second.id))).rejects.toMatchObject({ code: 'not_found' });
		await expect(firm.run((tx) => pairLines(tx, client.mara(), file, [{ lineId: line, paperId: rent }]))).rejects.toMatchObject({
			code: 'not_allowed'
		});
		const stranger = await makeFirm(context);
		await expect(readPapersOfLines(context, stranger.id, stranger.odalys(), file)).rejects.toMatchObject({ code: 'not_found' });
		await expect(stranger.run((tx) => refusePair(tx, stranger.odalys(), file, { lineId: line, paperId: rent }))).rejects.toMatchObject({
			code: 'not_found'
		});
	});
	test('go along when two clients become one', async () => {
		const second = await makeClient(context, firm);
		await paper('rent.pdf', 'Quay Rentals, 1 April 2026, 1,200.00', second.id);
		await paper('rent 2.pdf', 'Quay Rentals, 1 April 2026, 1,200.00');
		const [theirs, ours] = [await bring(LEDGER, 'april.csv', second.id), await bring()];
		await firm.run((tx) => mergeClients(tx, firm.odalys(), { keepId: client.id, goneId: second.id, take: [] }));
		for (const file of [theirs, ours]) expect((await look(file)).paired).toBe(1);
	});
	test('go out as a table, each line as it came', async () => {
		await hardware();
		const file = await bring();
		const { name, csv } = await firm.run((tx) => exportPapersOfLines(tx, firm.odalys(), file));
		expect(name).toBe('april with papers.csv');
		const rows = Papa.parse<string[]>(csv.replace(/^\ufeff/, '').trim()).data;
		expect(rows[0]).toEqual(['Date', 'Payee', 'Description', 'Category', 'Amount', 'Receipt', 'Paper', 'Paired by']);
		expect(rows[1]).toEqual(['2026-04-02', 'Harbour Hardware', 'CARD INV-20418', 'Tools', '-84.20', '', 'scan 1.pdf', 'by itself']);
		expect(rows[5].slice(2, 3)).toEqual(["'=2+2"]);
	});
});
