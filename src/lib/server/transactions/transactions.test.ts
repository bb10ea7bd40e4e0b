import { readdir } from 'node:fs/promises';
import { Readable } from 'node:stream';
import Papa from 'papaparse';
import { describe, expect, test } from 'vitest';
import { ITEM_KINDS } from '$lib/core/items/item-kinds';
import { asRequestLine, requestLineSchema, type LineInHand, type RequestLine } from '$lib/core/requests/request-list';
import type { StatementLineAnswerKind } from '$lib/core/transactions/statement-line-answers';
import { loadFirm } from '../firms/firm';
import { takeInPaper } from '../papers/papers';
import { asStaff } from '../platform/db/database';
import { readDraft } from '../drafts/drafts';
import { sendItemBack, waiveItem } from '../requests/judge-item';
import { readItem } from '../items/read-items';
import { sendRequest } from '../requests/send-request';
import { writeAccount } from '../statements/accounts';
import { itemsOf, makeClient, makeFirm, requestTo } from '../testing/test-firm';
import { client, context, firm, useFirm } from '../testing/use-firm';
import { answerStatementLine, fillInLine, handInStatementLines, keepTypedStatementLine } from './answer-statement-lines';
import { beginStatementLineQuestion, statementLineFilterSchema, readChoosableStatementLines } from './choose-statement-lines';
import { exportStatementLineAnswers } from './export-answers';
import { bringInTransactions, readInAnotherWay, readTransactionFile, readTransactionFiles, removeTransactionFile } from './transaction-files';

useFirm();

const CSV = [
	'Date,Payee,Description,Category,Amount,Receipt',
	'2026-04-02,Harbour Hardware,CARD,Uncategorized,-84.20,',
	'2026-04-03,Tideline,TRANSFER,,"-1,200.00",',
	'2026-04-07,Seabright Fuel,=cmd(),Vehicle,-61.05,fuel.pdf',
	'2026-04-09,M. Whitlock,gift,Sales,350.00,'
].join('\n');
const OFX = (fitid: string, day: string, name: string, amount = '-84.20') =>
	`OFXHEADER:100\n<OFX><STMTRS><CURDEF>CAD<BANKACCTFROM><ACCTID>000-4471</BANKACCTFROM><BANKTRANLIST><STMTTRN><DTPOSTED>${day}<TRNAMT>${amount}<FITID>${fitid}<NAME>${name}</STMTTRN></BANKTRANLIST></OFX>`;

const bring = (content: string, name = 'april.csv', accountId: string | null = null, clientId = client.id) =>
	bringInTransactions(context, firm.id, firm.odalys(), { clientId, accountId, name, content: Readable.from([Buffer.from(content)]) });
const filter = (more: object = {}) => statementLineFilterSchema.parse({ asked: false, words: '', ...more });
const look = (fileId: string, more: object = {}) =>
	firm.run((tx) => readChoosableStatementLines(tx, firm.odalys(), fileId, filter(more), { after: 0, most: 50 }));
const storedFiles = async () => (await readdir(context.papersFolder, { recursive: true })).filter((name) => /[0-9a-f-]{36}$/.test(name)).length;

/** Begins a question about all that a filter finds, and sends it as the sheet for asking does. */
async function ask(fileId: string, more: object = {}, change: (spec: Record<string, unknown>) => void = () => undefined, to = client) {
	const { draftId } = await firm.run(async (tx) =>
		beginStatementLineQuestion(tx, firm.odalys(), await loadFirm(tx), fileId, filter(more), { asks: 'what', ids: [], all: true })
	);
	const draft = await firm.run((tx) => readDraft(tx, firm.odalys(), draftId));
	const line = structuredClone(draft.content.lines[0]) as unknown as LineInHand;
	change(line.spec);
	const requestId = await sendRequest(
		context,
		firm.id,
		firm.odalys(),
		requestTo(to, [requestLineSchema.parse(asRequestLine(line, {})) as RequestLine])
	);
	return (await itemsOf(context, requestId))[0].id as string;
}
const item = (id: string) => firm.run((tx) => readItem(tx, firm.odalys(), id));
const linesOf = async (id: string) => ITEM_KINDS.transactions.spec.parse((await item(id)).spec).lines;
const answer = (itemId: string, lineId: string, how: StatementLineAnswerKind, words = '') =>
	client.run((tx) => answerStatementLine(tx, client.mara(), { itemId, lineId, answer: { how, words } }));

describe('a file', () => {
	test('is read, filtered and kept; what cannot be read is told', async () => {
		const id = await bring(`${CSV}\nTotal,,,,x,`);
		const file = await firm.run((tx) => readTransactionFile(tx, firm.odalys(), id));
		expect(file).toMatchObject({ format: 'csv', lines: 4, unread: 1, hasDocuments: true, hasCategories: true, order: 'ymd' });
		const whos = async (more: object) => (await look(id, more)).lines.map((line) => line.who);
		expect(await whos({ only: 'uncategorised' })).toEqual(['Harbour Hardware', 'Tideline']);
		expect(await whos({ only: 'no_document' })).toEqual(['Harbour Hardware', 'Tideline', 'M. Whitlock']);
		expect(await whos({ only: 'in' })).toEqual(['M. Whitlock']);
		expect(await whos({ over: '100' })).toEqual(['Tideline', 'M. Whitlock']);
		expect(await whos({ words: 'FUEL' })).toEqual(['Seabright Fuel']);
		expect(await whos({ words: '%' })).toEqual([]);
		expect((await look(id)).lines[1].amount).toBe('-1200.00');
	});
	test('that is none leaves nothing behind', async () => {
		const before = await storedFiles();
		await expect(bring('%PDF-1.7 no')).rejects.toMatchObject({ code: 'unreadable_file' });
		await expect(bring('')).rejects.toMatchObject({ code: 'unreadable_file' });
		expect(await storedFiles()).toBe(before);
		expect(await firm.run((tx) => readTransactionFiles(tx, firm.odalys(), client.id))).toEqual([]);
	});
	test('is read in another way, until a line of it was asked about', async () => {
		const id = await bring('03/04/2026,Bakery,12.00\n05/04/2026,Print,7.00\n');
		expect((await firm.run((tx) => readTransactionFile(tx, firm.odalys(), id))).order).toBeNull();
		expect((await look(id)).lines[0]).toMatchObject({ day: '2026-03-04', amount: '12.00' });
		const again = () => readInAnotherWay(context, firm.id, firm.odalys(), id, { columns: ['day', 'who', 'amount'], order: 'dmy', flip: true });
		await again();
		expect((await look(id)).lines[0]).toMatchObject({ day: '2026-04-03', amount: '-12.00', who: 'Bakery' });
		await ask(id);
		await expect(again()).rejects.toMatchObject({ code: 'changed_meanwhile' });
		await expect(firm.run((tx) => removeTransactionFile(tx, firm.odalys(), id))).rejects.toMatchObject({ code: 'changed_meanwhile' });
	});
	test('of another firm, for somebody else’s client or account, or by somebody who may not: no', async () => {
		const other = await makeFirm(context);
		const stranger = await makeClient(context, other);
		await expect(bring(CSV, 'x.csv', null, stranger.id)).rejects.toMatchObject({ code: 'not_found' });
		const id = await bring(CSV);
		await expect(other.run((tx) => readTransactionFile(tx, other.odalys(), id))).rejects.toMatchObject({ code: 'not_found' });
		const second = await makeClient(context, firm);
		const account = await firm.run((tx) =>
			writeAccount(
				tx,
				firm.odalys(),
				second.id,
				{ kind: 'bank', institution: 'T', lastFour: '1', currency: 'CAD', closingDay: 31, openedOn: null, closedOn: null },
				null
			)
		);
		await expect(bring(CSV, 'x.csv', account)).rejects.toMatchObject({ code: 'not_found' });
		await expect(
			bringInTransactions(context, firm.id, firm.filing, { clientId: client.id, accountId: null, name: 'x', content: Readable.from([]) })
		).rejects.toMatchObject({ code: 'not_allowed' });
		// a contact has no grant on files and lines at all
		await expect(client.run((tx) => tx.rows('select 1 from transaction_line'))).rejects.toThrow('permission denied');
	});
});

describe('asked before', () => {
	test('the same line of another file is recognised by the bank’s name for it, and by what it says', async () => {
		const first = await bring(OFX('A1', '20260402', 'Harbour Hardware'), 'a.ofx');
		await ask(first);
		const second = await look(await bring(OFX('A1', '20260402', 'HARBOUR HARDWARE 12'), 'b.ofx'), { asked: true });
		expect(second.lines[0].askedItem).toMatchObject({ state: 'asked' });
		const third = await look(await bring('Date,Payee,Amount\n2026-04-02,harbour  HARDWARE,-84.20\n2026-04-02,Harbour Hardware,-84.20\n'), {
			asked: true
		});
		// the second of two that say the same was not asked about
		expect(third.lines.map((line) => line.askedItem !== null)).toEqual([true, false]);
		expect(third.lines[1].alike).toMatchObject({ day: '2026-04-02' });
	});
	test('what may be the same is pointed out, and can be asked; what was asked is hidden', async () => {
		await ask(await bring(OFX('A1', '20260402', 'Harbour Hardware'), 'a.ofx'));
		const id = await bring(OFX('A9', '20260404', 'HARBOUR HDW', '-84.20'), 'b.ofx');
		const { lines, count } = await look(id);
		expect(count).toBe(1);
		expect(lines[0].alike).toMatchObject({ who: 'Harbour Hardware' });
		await ask(id);
		expect(await look(id)).toMatchObject({ lines: [], count: 0, askedBefore: 1 });
		await expect(ask(id)).rejects.toMatchObject({ code: 'invalid' });
	});
	test('lines as they stand in the file are sent, whatever the form says; another client’s never', async () => {
		const id = await bring(CSV);
		const itemId = await ask(id, { only: 'uncategorised' }, (spec) => {
			(spec.lines as { amount: string; who: string }[])[0].amount = '-1.00';
			(spec.lines as { amount: string; who: string }[])[0].who = 'Somebody else';
		});
		expect((await linesOf(itemId))[0]).toMatchObject({ amount: '-84.20', who: 'Harbour Hardware' });
		const second = await makeClient(context, firm);
		await expect(ask(id, {}, undefined, second)).rejects.toMatchObject({ code: 'not_found' });
	});
});

describe('the client answers', () => {
	test('line by line, as they come; all of them before it is handed in; the answers go out with what the bank wrote', async () => {
		const itemId = await ask(await bring(CSV));
		const [hardware, transfer, fuel, gift] = await linesOf(itemId);
		await answer(itemId, hardware.id, 'choice', 'Business expense');
		expect((await item(itemId)).state).toBe('started');
		await answer(itemId, transfer.id, 'personal', 'rent');
		await expect(client.run((tx) => handInStatementLines(tx, client.mara(), itemId))).rejects.toMatchObject({ code: 'invalid' });
		await takeInPaper(context, firm.id, client.mara(), {
			itemId,
			name: 'fuel.pdf',
			slot: fuel.id,
			content: Readable.from([Buffer.from('%PDF-1.7\n%âãÏÓ\n1 0 obj\n')])
		});
		await answer(itemId, gift.id, 'unknown');
		await answer(itemId, gift.id, 'words', '=HYPERLINK("x")');
		await client.run((tx) => handInStatementLines(tx, client.mara(), itemId));
		expect((await item(itemId)).state).toBe('handed_in');
		await expect(answer(itemId, gift.id, 'unknown')).rejects.toMatchObject({ code: 'changed_meanwhile' });

		const { csv, name } = await firm.run((tx) => exportStatementLineAnswers(tx, firm.odalys(), itemId));
		expect(name).toBe('Gull & String Kites What were these payments for?.csv');
		const [header, ...rows] = Papa.parse<string[]>(csv.replace(/^\ufeff/, ''), { skipEmptyLines: true }).data;
		expect(header.slice(0, 9)).toEqual(['Date', 'Payee', 'Description', 'Category', 'Amount', 'Receipt', 'Source file', 'Source line', 'Answer']);
		expect(rows.map((row) => [row[4], row[7], row[8], row[9], row[10]])).toEqual([
			['-84.20', '1', 'Business expense', 'chosen', ''],
			['-1,200.00', '2', 'personal: rent', 'personal', ''],
			['-61.05', '3', '', 'with a file', 'fuel.pdf'],
			['350.00', '4', `'=HYPERLINK("x")`, 'in words', '']
		]);
		expect(rows[2][2]).toBe(`'=cmd()`);
		// brought in again, its lines are the same ones
		const again = await look(await bring(csv, 'answers.csv'), { asked: true });
		expect(again.lines.map((line) => line.askedItem?.id)).toEqual([itemId, itemId, itemId, itemId]);
	});
	test('what is typed is kept and is no answer yet; an answer that was given is not typed over; beside a file it counts', async () => {
		const itemId = await ask(await bring(CSV));
		const [first, second, ...rest] = await linesOf(itemId);
		const keep = (lineId: string, words: string) => client.run((tx) => keepTypedStatementLine(tx, client.mara(), { itemId, lineId, words }));
		await keep(first.id, 'pai');
		await keep(first.id, 'paint, I thi');
		expect(await item(itemId)).toMatchObject({ state: 'started', answerData: { [first.id]: { words: 'paint, I thi', typing: true } } });
		await answer(itemId, second.id, 'personal');
		await keep(second.id, 'late keystrokes');
		expect((await item(itemId)).answerData).toMatchObject({ [second.id]: { how: 'personal', words: '' } });
		for (const line of rest) await answer(itemId, line.id, 'unknown');
		await expect(client.run((tx) => handInStatementLines(tx, client.mara(), itemId))).rejects.toMatchObject({ code: 'invalid' });
		const out = async () => Papa.parse<string[]>((await firm.run((tx) => exportStatementLineAnswers(tx, firm.odalys(), itemId))).csv).data[1][8];
		expect(await out()).toBe('');
		await takeInPaper(context, firm.id, client.mara(), {
			itemId,
			name: 'paint.pdf',
			slot: first.id,
			content: Readable.from([Buffer.from('%PDF-1.7\n%âãÏÓ\n1 0 obj\n')])
		});
		await client.run((tx) => handInStatementLines(tx, client.mara(), itemId));
		expect(await out()).toBe('paint, I thi');
		await keep(first.id, 'too late');
		expect(await out()).toBe('paint, I thi');
		const stranger = await makeClient(context, firm);
		await expect(stranger.run((tx) => keepTypedStatementLine(tx, stranger.mara(), { itemId, lineId: first.id, words: 'x' }))).rejects.toMatchObject({
			code: 'not_found'
		});
	});
	test('only what is offered, only lines of theirs, and nothing twice at once is lost', async () => {
		const itemId = await ask(await bring(CSV));
		const lines = await linesOf(itemId);
		await expect(answer(itemId, lines[0].id, 'choice', 'Made up')).rejects.toMatchObject({ code: 'invalid' });
		await expect(answer(itemId, lines[0].id, 'no_paper')).rejects.toMatchObject({ code: 'invalid' });
		await expect(answer(itemId, client.id, 'unknown')).rejects.toMatchObject({ code: 'not_found' });
		await expect(
			takeInPaper(context, firm.id, client.mara(), { itemId, name: 'x.pdf', slot: client.id, content: Readable.from([Buffer.from('%PDF-1.7\n')]) })
		).rejects.toMatchObject({ code: 'not_found' });
		const stranger = await makeClient(context, firm);
		await expect(
			stranger.run((tx) => answerStatementLine(tx, stranger.mara(), { itemId, lineId: lines[0].id, answer: { how: 'unknown', words: '' } }))
		).rejects.toMatchObject({ code: 'not_found' });
		await Promise.all(lines.map((line) => answer(itemId, line.id, 'unknown')));
		expect(Object.keys((await item(itemId)).answerData as object)).toHaveLength(4);
		await client.run((tx) => answerStatementLine(tx, client.mara(), { itemId, lineId: lines[0].id, answer: null }));
		expect(Object.keys((await item(itemId)).answerData as object)).toHaveLength(3);
	});
	test('sent back, answers stay and can be changed; by phone the last one fills it in; waived, it takes none', async () => {
		const itemId = await ask(await bring(CSV), { only: 'uncategorised' });
		const [first, second] = await linesOf(itemId);
		const phone = async (lineId: string) => fillIn(lineId, (await item(itemId)).version);
		const fillIn = (lineId: string, version: number) =>
			firm.run((tx) => fillInLine(tx, firm.odalys(), { itemId, lineId, version, answer: { how: 'words', words: 'said so' } }));
		// whoever may only see the client notes nothing, and each note stands in the history
		await context.owner.query('update client set restricted = true where id = $1', [client.id]);
		await context.owner.query(`insert into client_right (firm_id, client_id, staff_id, level) values ($1, $2, $3, 'see')`, [
			firm.id,
			client.id,
			firm.partner.id
		]);
		const { version } = await item(itemId);
		await expect(
			asStaff(context.db, firm.partner.id!).inFirm(firm.id, (tx) =>
				fillInLine(tx, firm.partner, { itemId, lineId: second.id, version, answer: { how: 'words', words: 'x' } })
			)
		).rejects.toMatchObject({ code: 'not_allowed' });
		await phone(first.id);
		await phone(second.id);
		expect((await item(itemId)).state).toBe('handed_in');
		const { rows } = await context.owner.query(`select verb from event where item_id = $1 and actor_kind = 'staff' order by id`, [itemId]);
		expect(rows.map((row) => row.verb)).toEqual(['line_filled_in', 'item_filled_in']);
		await context.owner.query('update client set restricted = false where id = $1', [client.id]);
		await firm.run(async (tx) => sendItemBack(tx, firm.odalys(), { itemId, version: (await item(itemId)).version, reason: 'The first one?' }));
		await expect(fillIn(first.id, 1)).rejects.toMatchObject({ code: 'changed_meanwhile' });
		await answer(itemId, first.id, 'words', 'paint');
		await client.run((tx) => handInStatementLines(tx, client.mara(), itemId));
		expect((await item(itemId)).answerData).toMatchObject({
			[first.id]: { words: 'paint', by: 'Mara Whitlock' },
			[second.id]: { by: 'Odalys Fenwick' }
		});
		await firm.run(async (tx) => waiveItem(tx, firm.odalys(), { itemId, version: (await item(itemId)).version }));
		await expect(answer(itemId, first.id, 'unknown')).rejects.toMatchObject({ code: 'changed_meanwhile' });
	});
});
