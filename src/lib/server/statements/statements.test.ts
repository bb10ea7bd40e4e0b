import { randomUUID } from 'node:crypto';
import { Readable } from 'node:stream';
import { beforeEach, describe, expect, test } from 'vitest';
import { accountSchema } from '$lib/core/statements/accounts';
import { putRightSchema } from '$lib/core/statements/put-right';
import { inUnits } from '$lib/core/statements/printed/sums';
import { machine } from '../actor';
import { loadFirm } from '../firms/firm';
import {
	fileByItself,
	fileArrival,
	keepArrival,
	putAwayArrival,
	readArrival,
	readArrivalsWithPlaces,
	takeInArrival,
	unfileArrival
} from '../papers/arrivals';
import { endFilingRule, makeFilingRule, readFilingRules } from '../papers/filing-rules';
import { takeInPaper } from '../papers/papers';
import { handInPapers } from '../item-kinds/kinds/paper';
import { asStaff, type Tx } from '../platform/db/database';
import { beginRequest } from '../requests/begin-request';
import { acceptItem, sendItemBack, waiveItem } from '../requests/judge-item';
import { sendRequest } from '../requests/send-request';
import { closingOf, printedStatement, statementData, type StatementData } from '../testing/printed-statements';
import { itemsOf, makeClient, makeFirm, requestTo } from '../testing/test-firm';
import { client, context, firm, useFirm } from '../testing/use-firm';
import { changeClientRights } from '../clients/client-rights';
import { writeAccount } from './accounts';
import { gridAsCsv, missingAsCsv } from './export-grid';
import { explainStatement, learnFrom, putRightStatement, writeStatement } from './put-right';
import { papersAddress } from '$lib/core/arrivals/incoming-mail';
import { takeInMail } from '../papers/papers-by-mail';
import { readPaper } from './read-paper';
import { readStatementsOf } from './read-statement';
import { readMissingStatements, readStatementGrid } from './statement-grid';

useFirm();

const desk = <T>(work: (tx: Tx) => Promise<T>) => firm.run(work);
const grid = (until: string | null = null) => desk(async (tx) => readStatementGrid(tx, firm.odalys(), await loadFirm(tx), client.id, until));
const states = async () => (await grid()).rows.map(({ cells }) => cells.filter(({ state }) => state !== 'before').map(({ state }) => state));
let bank: string;
const addAccount = (more: object = {}, clientId = client.id) =>
	desk((tx) =>
		writeAccount(
			tx,
			firm.odalys(),
			clientId,
			accountSchema.parse({
				kind: 'bank',
				institution: 'Harbour Union',
				lastFour: '7710',
				currency: 'CAD',
				closingDay: 31,
				openedOn: '2026-02-01',
				...more
			}),
			null
		)
	);
/** Sends a file without being asked, and has it read. @returns the paper's id */
async function arrive(content: Uint8Array | string, name = 'statement.pdf'): Promise<string> {
	const { id } = await takeInArrival(context, firm.id, client.mara(), { clientId: client.id, name, content: Readable.from([Buffer.from(content)]) });
	await readPaper(context, firm.id, id);
	return id;
}
const of = (from: string, to: string, opening: bigint, seed = 1) => statementData(seed, '0020 447710', from, to, opening, 4);
const printed = (data: StatementData) => printedStatement('Harbour Union', data, 'Gull & String Kites');
const statementOf = async (paperId: string) =>
	(await desk((tx) =>
		tx.first<{ id: string; last_four: string; opening: string }>('select id, last_four, opening from statement where paper_id = $1', [paperId])
	))!;
const values = (more: object = {}) =>
	putRightSchema.parse({ accountId: bank, from: '2026-02-01', to: '2026-02-28', opening: '', closing: '', ...more });

beforeEach(async () => {
	// 4 May 2026, a Monday
	bank = await addAccount();
});

describe('the grid', () => {
	test('a statement that came by itself is found by its number and its days, and waits to be looked at', async () => {
		expect(await states()).toEqual([['not_asked', 'not_asked', 'not_asked', 'not_over']]);
		await arrive(await printed(of('2026-03-01', '2026-03-31', 1_000_00n)));
		expect(await states()).toEqual([['not_asked', 'to_look_at', 'not_asked', 'not_over']]);
		expect(await desk((tx) => readArrivalsWithPlaces(tx, 10, null))).toMatchObject([
			{ seems: '', statement: { to: '2026-03-31', lastFour: '7710' } }
		]);
	});

	test('asking from the grid begins with the line, asks once, and filing what came settles it', async () => {
		const paper = await arrive(await printed(of('2026-04-01', '2026-04-30', 1_000_00n)));
		const begun = await desk(async (tx) =>
			beginRequest(tx, firm.odalys(), await loadFirm(tx), client.id, {
				statements: [
					{ accountId: bank, to: '2026-03-31' },
					{ accountId: bank, to: '2026-04-30' }
				]
			})
		);
		expect(begun.lines.map(({ title, account }) => [title, account])).toEqual([
			['Harbour Union ··7710, March 2026', { id: bank, from: '2026-03-01', to: '2026-03-31' }],
			['Harbour Union ··7710, April 2026', { id: bank, from: '2026-04-01', to: '2026-04-30' }]
		]);
		const requestId = await sendRequest(context, firm.id, firm.odalys(), requestTo(client, begun.lines as never));
		const [march, april] = await itemsOf(context, requestId);
		const arrived = await desk((tx) => readArrival(tx, firm.odalys(), paper));
		expect(arrived.proposed).toMatchObject({ itemId: april.id });
		expect(arrived.proposed!.signs.map(({ is }) => is)).toEqual(['statement', 'covers']);
		expect(arrived.statements[0].spots.opening).toMatchObject({ page: 1 });
		await expect(
			desk(async (tx) => beginRequest(tx, firm.odalys(), await loadFirm(tx), client.id, { statements: [{ accountId: bank, to: '2026-04-30' }] }))
		).rejects.toMatchObject({ code: 'changed_meanwhile' });
		await desk((tx) => fileArrival(tx, firm.odalys(), { paperId: paper, itemId: april.id, slot: null }));
		expect(await states()).toEqual([['not_asked', 'asked', 'to_look_at', 'not_over']]);
		const version = (await desk((tx) => tx.first<{ version: number }>('select version from item where id = $1', [april.id])))!.version;
		await desk((tx) => acceptItem(tx, firm.odalys(), { itemId: april.id, version }));
		await desk((tx) => waiveItem(tx, firm.odalys(), { itemId: march.id, version: 1 }));
		expect(await states()).toEqual([['not_asked', 'not_needed', 'in', 'not_over']]);
	});

	test('what does not join is said with its sum, until somebody knows why', async () => {
		const first = of('2026-02-01', '2026-02-28', 1_000_00n);
		await arrive(await printed(first), 'february.pdf');
		const march = await arrive(await printed(of('2026-03-01', '2026-03-31', closingOf(first) - 412_00n, 2)), 'march.pdf');
		expect((await grid()).differing).toMatchObject([{ difference: '-412.00', is: 'differs' }]);
		const { id } = await statementOf(march);
		await desk((tx) => explainStatement(tx, firm.odalys(), id, 'a fee that the bank took on the first'));
		expect((await grid()).differing).toEqual([]);
		expect((await grid()).rows[0].joins).toMatchObject([{ is: 'explained' }]);
		// read again, it stays itself: somebody may be looking at it
		await readPaper(context, firm.id, march);
		expect(await statementOf(march)).toMatchObject({ id });
		expect((await grid()).rows[0].joins).toMatchObject([{ is: 'explained' }]);
		expect(gridAsCsv(await grid())).toContain('2026-03-01,2026-03-31,to look at,');
	});

	test('what was handed in and cannot be read counts as what it was asked for', async () => {
		const requestId = await sendRequest(
			context,
			firm.id,
			firm.odalys(),
			requestTo(
				client,
				(
					await desk(async (tx) =>
						beginRequest(tx, firm.odalys(), await loadFirm(tx), client.id, { statements: [{ accountId: bank, to: '2026-02-28' }] })
					)
				).lines as never
			)
		);
		const [item] = await itemsOf(context, requestId);
		const paper = await arrive('%PDF-1.7 a scan', 'scan.pdf');
		await desk((tx) => fileArrival(tx, firm.odalys(), { paperId: paper, itemId: item.id, slot: null }));
		expect((await states())[0][0]).toBe('to_look_at');
		expect(await desk((tx) => readStatementsOf(tx, firm.odalys(), client.id, { statementIds: [], itemId: item.id }))).toMatchObject([
			{ id: null, looked: true, pages: null, words: false, from: null }
		]);
		// by hand it says which days it covers
		await desk((tx) => writeStatement(tx, firm.odalys(), paper, values({ to: '2026-02-14', opening: '12.204,11' })));
		expect((await grid()).rows[0].cells.find(({ cycle }) => cycle.to === '2026-02-28')).toMatchObject({ missingDays: 14 });
		expect(await statementOf(paper)).toMatchObject({ opening: '12204.11' });
	});

	test('what a client has added and not handed in, or was sent back, is not here', async () => {
		const { lines } = await desk(async (tx) =>
			beginRequest(tx, firm.odalys(), await loadFirm(tx), client.id, { statements: [{ accountId: bank, to: '2026-03-31' }] })
		);
		const [item] = await itemsOf(context, await sendRequest(context, firm.id, firm.odalys(), requestTo(client, lines as never)));
		const content = Readable.from([Buffer.from(await printed(of('2026-03-01', '2026-03-31', 1n)))]);
		const { id } = await takeInPaper(context, firm.id, client.mara(), { itemId: item.id, name: 'march.pdf', content });
		await readPaper(context, firm.id, id);
		const march = async () => (await states())[0][1];
		expect(await march()).toBe('asked');
		await client.run((tx) => handInPapers(tx, client.mara(), { itemId: item.id, without: false }));
		expect(await march()).toBe('to_look_at');
		const { version } = (await desk((tx) => tx.first<{ version: number }>('select version from item where id = $1', [item.id])))!;
		await desk((tx) => sendItemBack(tx, firm.odalys(), { itemId: item.id, version, reason: 'a page is missing' }));
		expect(await march()).toBe('asked');
	});

	test('a bank’s file says it better than any page', async () => {
		const camt = `<?xml version="1.0"?><Document xmlns="urn:iso:std:iso:20022:tech:xsd:camt.053.001.08"><BkToCstmrStmt><Stmt><Acct><Id><Othr><Id>0020447710</Id></Othr></Id></Acct>
			<FrToDt><FrDtTm>2026-03-01T00:00:00</FrDtTm><ToDtTm>2026-03-31T23:59:59</ToDtTm></FrToDt>
			<Bal><Tp><CdOrPrtry><Cd>OPBD</Cd></CdOrPrtry></Tp><Amt Ccy="CAD">7.00</Amt><CdtDbtInd>CRDT</CdtDbtInd></Bal></Stmt></BkToCstmrStmt></Document>`;
		const paper = await arrive(camt, 'march.xml');
		expect(await statementOf(paper)).toMatchObject({ last_four: '7710', opening: '7.00' });
		expect((await states())[0][1]).toBe('to_look_at');
	});

	test('what was put away, or taken back, counts no more', async () => {
		const paper = await arrive(await printed(of('2026-03-01', '2026-03-31', 1n)));
		await desk((tx) => putAwayArrival(tx, firm.odalys(), paper));
		expect((await states())[0][1]).toBe('not_asked');
	});

	test('kept among their papers it is in, and can be brought back', async () => {
		const paper = await arrive(await printed(of('2026-03-01', '2026-03-31', 1n)));
		await desk((tx) => keepArrival(tx, firm.odalys(), paper));
		expect((await states())[0][1]).toBe('in');
		await desk((tx) => unfileArrival(tx, firm.odalys(), paper));
		expect((await states())[0][1]).toBe('to_look_at');
	});

	test('two accounts with the same last digits: nobody guesses which one', async () => {
		await addAccount({ institution: 'Tideline Savings' });
		await arrive(await printed(of('2026-03-01', '2026-03-31', 1_000_00n)));
		expect((await states()).flat()).not.toContain('to_look_at');
	});

	test('who may not see the client sees nothing of it, and nobody of another firm', async () => {
		const paper = await arrive(await printed(of('2026-03-01', '2026-03-31', 1_000_00n)));
		const { id } = await statementOf(paper);
		await desk((tx) =>
			changeClientRights(tx, firm.odalys(), { clientId: client.id, restricted: true, rights: [{ staffId: firm.odalys().id!, may: 'work' }] as never })
		);
		const ferrin = asStaff(context.db, firm.partner.id!);
		await expect(ferrin.inFirm(firm.id, (tx) => putRightStatement(tx, firm.partner, id, values()))).rejects.toMatchObject({ code: 'not_found' });
		expect(await ferrin.inFirm(firm.id, async (tx) => readMissingStatements(tx, firm.partner, await loadFirm(tx), null))).toEqual([]);
		const other = await makeFirm(context);
		await expect(other.run((tx) => putRightStatement(tx, other.odalys(), id, values()))).rejects.toMatchObject({ code: 'not_found' });
	});
});

describe('what is missing where', () => {
	test('the longest hole first, with what nobody has asked for', async () => {
		const other = await makeClient(context, firm, { name: 'Foxglove Boatyard' });
		await addAccount({ openedOn: '2025-11-01', closingDay: 20 }, other.id);
		await arrive(await printed(of('2026-03-01', '2026-03-31', 1_000_00n)));
		const missing = await desk(async (tx) => readMissingStatements(tx, firm.odalys(), await loadFirm(tx), null));
		expect(missing.map(({ clientName, cycles, hole, notAsked }) => [clientName, cycles.length, hole, notAsked])).toEqual([
			['Foxglove Boatyard', 6, { from: '2025-11-01', to: '2026-04-20' }, 6],
			['Gull & String Kites', 2, { from: '2026-04-01', to: '2026-04-30' }, 2]
		]);
		expect(missingAsCsv(missing).split('\r\n')[1]).toBe('Foxglove Boatyard,Harbour Union ··7710,2025-11-01,2025-11-20');
	});
});

describe('put right by a person', () => {
	test('stays when the paper is read again, and another client’s account is refused', async () => {
		const paper = await arrive(await printed(of('2026-03-01', '2026-03-31', 1_000_00n)));
		const { id } = await statementOf(paper);
		await desk((tx) => putRightStatement(tx, firm.odalys(), id, values({ opening: '2,000.00', closing: '3,000.00' })));
		await readPaper(context, firm.id, paper);
		expect(await statementOf(paper)).toMatchObject({ id, opening: '2000.00' });
		expect((await states())[0].slice(0, 2)).toEqual(['to_look_at', 'not_asked']);
		const other = await makeClient(context, firm, { name: 'Somebody else' });
		const theirs = await addAccount({}, other.id);
		await expect(desk((tx) => putRightStatement(tx, firm.odalys(), id, values({ accountId: theirs })))).rejects.toMatchObject({ code: 'not_found' });
		await expect(desk((tx) => putRightStatement(tx, firm.odalys(), randomUUID(), values()))).rejects.toMatchObject({ code: 'not_found' });
	});

	test('teaches what the institution calls its sums: the next one, and those that are here, are read by it', async () => {
		const odd = async (data: StatementData) =>
			(await import('../platform/pdf/compose-letter'))
				.pdfMake()
				.createPdf({
					defaultStyle: { font: 'Sans' },
					content: [
						{ text: 'Harbour Union' },
						{ text: `Account ${data.account}, statement period ${data.from} to ${data.to}` },
						{
							layout: 'noBorders',
							table: {
								widths: ['*', 100],
								body: [
									['Carried over from last time', inUnits(data.opening)],
									['To your good', inUnits(closingOf(data))]
								]
							}
						}
					]
				})
				.getBuffer();
		const february = await arrive(await odd(of('2026-02-01', '2026-02-28', 77_000_00n)));
		const march = await arrive(await odd(of('2026-03-01', '2026-03-31', 88_000_00n)));
		expect([await statementOf(february), await statementOf(march)]).toMatchObject([{ opening: null }, { opening: null }]);
		const { id } = await statementOf(february);
		await desk((tx) => putRightStatement(tx, firm.odalys(), id, values({ opening: '77,000.00' })));
		await learnFrom(context, firm.id, id);
		await readPaper(context, firm.id, march);
		expect(await statementOf(march)).toMatchObject({ opening: '88000.00' });
		// another firm has learnt nothing of it
		const other = await makeFirm(context);
		expect(await other.run((tx) => tx.rows('select 1 from statement_label'))).toEqual([]);
	});

	test.each([
		[{ from: '2026-03-01', to: '' }, 'Write both days, or neither.'],
		[{ from: '2026-03-01', to: '2026-02-01' }, 'The last day lies before the first one.'],
		[{ opening: 'twelve' }, 'Write the opening balance as a sum, such as 12,204.11.'],
		[{ closing: '1.234567' }, 'Write the closing balance as a sum, such as 12,204.11.']
	])('refuses %j and says why', (more, says) => {
		const read = putRightSchema.safeParse({ accountId: randomUUID(), from: '', to: '', opening: '', closing: '', ...more });
		expect(read.error?.issues.map(({ message }) => message)).toContain(says);
	});
});

describe('by itself', () => {
	const april = () => printed(of('2026-04-01', '2026-04-30', 1_000_00n));
	const ask = async () => {
		const { lines } = await desk(async (tx) =>
			beginRequest(tx, firm.odalys(), await loadFirm(tx), client.id, { statements: [{ accountId: bank, to: '2026-04-30' }] })
		);
		return (await itemsOf(context, await sendRequest(context, firm.id, firm.odalys(), requestTo(client, lines as never))))[0].id;
	};
	const goes = (paper: string) => desk((tx) => fileByItself(tx, machine(context.clock.now()), paper));
	const rules = () => desk((tx) => readFilingRules(tx, firm.odalys()));

	test('only where somebody allowed it for the account; taken back it is counted, switched off it ends', async () => {
		const item = await ask();
		const paper = await arrive(await april());
		expect(await goes(paper)).toBe(false);
		expect((await desk((tx) => readArrival(tx, firm.odalys(), paper))).mayFileItself).toEqual({ accountId: bank, name: 'Harbour Union ··7710' });
		await desk((tx) => makeFilingRule(tx, firm.odalys(), bank));
		await desk((tx) => makeFilingRule(tx, firm.odalys(), bank));
		expect((await desk((tx) => readArrival(tx, firm.odalys(), paper))).mayFileItself).toBeNull();
		expect(await goes(paper)).toBe(true);
		// what has its place does not go again
		expect(await goes(paper)).toBe(false);
		expect(await desk((tx) => tx.first('select state from item where id = $1', [item]))).toEqual({ state: 'handed_in' });
		expect(await desk((tx) => tx.rows(`select actor_name name from event where verb = 'item_filed'`))).toEqual([{ name: 'Humble Lantern' }]);
		expect(await rules()).toMatchObject({ filed: 1, dealt: 1, rules: [{ filed: 1, takenBack: 0, lastFour: '7710' }] });
		await desk((tx) => unfileArrival(tx, firm.odalys(), paper));
		expect(await rules()).toMatchObject({ filed: 0, rules: [{ filed: 0, takenBack: 1 }] });
		const [{ id }] = (await rules()).rules;
		await desk((tx) => endFilingRule(tx, firm.odalys(), id));
		await expect(desk((tx) => endFilingRule(tx, firm.odalys(), id))).rejects.toMatchObject({ code: 'not_found' });
		expect(await goes(paper)).toBe(false);
	});

	test('by mail only where the servers on the way confirm the sender, and never before it is let in', async () => {
		await desk((tx) => makeFilingRule(tx, firm.odalys(), bank));
		await ask();
		const place = { db: context.db, papers: context.papers, domain: 'papers.firm.example' };
		const { key, email } = (await desk((tx) =>
			tx.first<{ key: string; email: string }>('select c.mail_key "key", p.email from client c, contact p where c.id = $1 and p.id = $2', [
				client.id,
				client.contactId
			])
		))!;
		const mailed = async (found: string, n: number) => {
			const head = `From: ${email}\r\nMessage-ID: <${n}@gull.example>\r\nAuthentication-Results: mx.firm.example; ${found}\r\n`;
			const file = `Content-Type: application/pdf; name="s.pdf"\r\nContent-Disposition: attachment\r\nContent-Transfer-Encoding: base64\r\n\r\n`;
			const content = Readable.from([head + file + Buffer.from(await april()).toString('base64')]);
			await takeInMail(place, context.clock.now(), { to: papersAddress(key, place.domain), returnPath: email, content, tooLarge: () => false });
			const { id } = (await desk((tx) =>
				tx.first<{ id: string }>(
					'select id from paper where mail_id is not null and item_id is null and removed_at is null order by uploaded_at desc, id limit 1'
				)
			))!;
			await readPaper(context, firm.id, id);
			const went = await goes(id);
			await desk((tx) => tx.rows('update paper set removed_at = $2 where id = $1 and item_id is null', [id, context.clock.now()]));
			return went;
		};
		expect(await mailed('none', 1)).toBe(false);
		expect(await mailed('spf=pass; dmarc=fail', 2)).toBe(false);
		expect(await mailed('spf=pass; dmarc=pass', 3)).toBe(true);
	});

	test('never where nothing is asked for these days, for a file of two accounts, or for one that was put away', async () => {
		await desk((tx) => makeFilingRule(tx, firm.odalys(), bank));
		const early = await arrive(await printed(of('2026-02-01', '2026-02-28', 1n)));
		await ask();
		expect(await goes(early)).toBe(false);
		const paper = await arrive(await april());
		await desk((tx) => putAwayArrival(tx, firm.odalys(), paper));
		expect(await goes(paper)).toBe(false);
	});

	test('nobody makes or ends a rule for a client whom they may not see', async () => {
		await desk((tx) => makeFilingRule(tx, firm.odalys(), bank));
		const [{ id }] = (await rules()).rules;
		const other = await makeFirm(context);
		await expect(other.run((tx) => makeFilingRule(tx, other.odalys(), bank))).rejects.toMatchObject({ code: 'not_found' });
		await expect(other.run((tx) => endFilingRule(tx, other.odalys(), id))).rejects.toMatchObject({ code: 'not_found' });
		expect((await other.run((tx) => readFilingRules(tx, other.odalys()))).rules).toEqual([]);
	});
});
