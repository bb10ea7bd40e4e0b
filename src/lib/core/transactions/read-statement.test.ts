import fc from 'fast-check';
import iconv from 'iconv-lite';
import { describe, expect, test } from 'vitest';
import { amountOf, decimalMarkOf, negated } from './amounts';
import { dateOrderOf, dayOfText, type DateOrder } from './days';
import { recogniseCsvColumns } from './csv-columns';
import type { CsvChoices } from './read-csv';
import { formatOf, readStatement } from './read-statement';
import { FIELD_MAX, type StatementLine, type UnreadStatementLine } from './statement-line';

const NO_CHOICE: CsvChoices = { columns: null, order: null, flip: false };

/** @param size bytes in a piece, so that everything is cut in awkward places */
async function read(file: string | Uint8Array, choices: Partial<CsvChoices> = {}, size = 1_000_000) {
	const bytes = typeof file === 'string' ? Buffer.from(file) : file;
	const lines: StatementLine[] = [];
	const unread: UnreadStatementLine[] = [];
	function* pieces() {
		for (let at = 0; at < bytes.length; at += size) yield bytes.subarray(at, at + size);
	}
	const found = await readStatement(
		pieces(),
		{ ...NO_CHOICE, ...choices },
		{ line: (line) => lines.push(line), unread: (line) => unread.push(line) }
	);
	return { ...found, lines, unread };
}
const short = (line: StatementLine) => [line.day, line.amount, line.who, line.words].join(' | ');

describe('amounts', () => {
	test.each([
		['12.5', '.', '12.50'],
		['-1,234.50', '.', '-1234.50'],
		['1.234,50', ',', '1234.50'],
		['1.234,50-', ',', '-1234.50'],
		['(12.50)', '.', '-12.50'],
		['12.50 DR', '.', '-12.50'],
		['12.50 CR', '.', '12.50'],
		['$ 7', '.', '7.00'],
		['-$7.10', '.', '-7.10'],
		['$-7.10', '.', '-7.10'],
		['−3', '.', '-3.00'],
		['CAD 1 234,5', ',', '1234.50'],
		['1’234.50', '.', '1234.50'],
		['.5', '.', '0.50'],
		['+0.00', '.', '0.00'],
		['-0', '.', '0.00'],
		['12,34,567.00', '.', '1234567.00'],
		['1.2345', '.', '1.2345'],
		['0012.00', '.', '12.00']
	] as const)('%s with %s is %s', (text, mark, amount) => expect(amountOf(text, mark)).toBe(amount));
	test.each(['', '-', '.', 'abc', '1.2.3', '12.50.', '--5', '-5-', '1,2', '1e5', '12345678901234', '1.1234567'])('%s is none', (text) =>
		expect(amountOf(text, '.')).toBeNull()
	);
	test('the decimal mark is told by the cells that leave no doubt', () => {
		expect(decimalMarkOf(['1,234', '5,678', '1,234.5'])).toBe('.');
		expect(decimalMarkOf(['1.234', '12,5'])).toBe(',');
		expect(decimalMarkOf(['1.234.567', '3'])).toBe(',');
		expect(decimalMarkOf([])).toBe('.');
	});
	test('written in any usual way, it is the same amount again', () => {
		fc.assert(
			fc.property(fc.integer({ min: -999_999_999, max: 999_999_999 }), fc.constantFrom('en', 'de', 'fr-CA', 'de-CH', 'en-IN'), (cents, locale) => {
				const text = (cents / 100).toLocaleString(locale, { minimumFractionDigits: 2 });
				expect(amountOf(text, locale === 'de' || locale === 'fr-CA' ? ',' : '.')).toBe((cents / 100).toFixed(2).replace(/^-(0\.00)$/, '$1'));
			})
		);
		expect(negated(negated('5.00'))).toBe('5.00');
		expect(negated('0.00')).toBe('0.00');
	});
});

describe('days', () => {
	test.each([
		['2026-02-28', 'dmy', '2026-02-28'],
		['2026/2/8', 'dmy', '2026-02-08'],
		['20260228', 'mdy', '2026-02-28'],
		['20260228120000.000[-5:EST]', 'mdy', '2026-02-28'],
		['03/04/2026', 'dmy', '2026-04-03'],
		['03/04/2026', 'mdy', '2026-03-04'],
		['3.4.26', 'dmy', '2026-04-03'],
		['26-04-03', 'ymd', '2026-04-03'],
		['31 Jan 2026', 'mdy', '2026-01-31'],
		['Jan 31, 2026', 'dmy', '2026-01-31'],
		['Wed, 31 December 2025', 'dmy', '2025-12-31'],
		['1er août 2026', 'dmy', '2026-08-01'],
		['15 févr. 2026', 'dmy', '2026-02-15'],
		['juin 30 2026', 'dmy', '2026-06-30'],
		['03/04/2026 23:59', 'dmy', '2026-04-03'],
		['2026-03-29T23:30:00Z', 'dmy', '2026-03-29'],
		['29.02.2028', 'dmy', '2028-02-29']
	] as const)('%s as %s is %s', (text, order, day) => expect(dayOfText(text, order as DateOrder)).toBe(day));
	test.each(['', '30/02/2026', '29.02.2026', '0/1/2026', '2026-13-01', 'yesterday', '1/2', '12/31/1802'])('%s is none', (text) =>
		expect(dayOfText(text, 'dmy')).toBeNull()
	);
	test('the order is told by a day that leaves no doubt, else not', () => {
		expect(dateOrderOf(['03/04/2026', '05/06/2026'])).toBeNull();
		expect(dateOrderOf(['03/04/2026', '13/06/2026'])).toBe('dmy');
		expect(dateOrderOf(['03/04/2026', '03/14/2026'])).toBe('mdy');
		expect(dateOrderOf(['2026-03-04'])).toBe('ymd');
	});
});

const OFX_SGML = `OFXHEADER:100\r\nDATA:OFXSGML\r\nVERSION:102\r\nENCODING:USASCII\r\nCHARSET:1252\r\n\r\n<OFX><SIGNONMSGSRSV1><SONRS><DTSERVER>20260301</SONRS></SIGNONMSGSRSV1>
<BANKMSGSRSV1><STMTTRNRS><STMTRS><CURDEF>CAD<BANKACCTFROM><BANKID>1<ACCTID>000-4417<ACCTTYPE>CHECKING</BANKACCTFROM><BANKTRANLIST><DTSTART>20260201
<STMTTRN><TRNTYPE>DEBIT<DTPOSTED>20260203120000[-5:EST]<TRNAMT>-42.10<FITID>A1<NAME>AT&amp;T & CO <3<MEMO>phone</STMTTRN>
<STMTTRN><TRNTYPE>CREDIT<DTPOSTED>20260204<TRNAMT>1200,00<FITID>A2<PAYEE><NAME>Gull<ADDR1>x</PAYEE><BANKACCTTO><ACCTID>999</BANKACCTTO></STMTTRN>
<STMTTRN><TRNTYPE>FEE<DTPOSTED>20260205<FITID>A3<NAME>no amount</STMTTRN>
<STMTTRN><TRNTYPE>FEE<TRNAMT>-1<FITID>A4</STMTTRN>
</BANKTRANLIST></STMTRS></STMTTRNRS></BANKMSGSRSV1>
<CREDITCARDMSGSRSV1><CCSTMTTRNRS><CCSTMTRS><CURDEF>USD<CCACCTFROM><ACCTID>card-9</CCACCTFROM><BANKTRANLIST><STMTTRN><DTPOSTED>20260206<TRNAMT>-9.99<FITID>C1<NAME>Caf\u00e9</STMTTRN></BANKTRANLIST></OFX>`;
const OFX_XML = `<?xml version="1.0" encoding="UTF-8"?><?OFX OFXHEADER="200" VERSION="211"?><!-- made by a bank --><OFX><BANKMSGSRSV1><STMTTRNRS><STMTRS><CURDEF>EUR</CURDEF><BANKACCTFROM><ACCTID>DE1</ACCTID></BANKACCTFROM><BANKTRANLIST>
<stmttrn><trntype>DEBIT</trntype><dtposted>20260203</dtposted><trnamt>-5.00</trnamt><fitid>X1</fitid><name>M&#252;ller</name><memo><![CDATA[<b> & more]]></memo><empty/></stmttrn></BANKTRANLIST></STMTRS></STMTTRNRS></BANKMSGSRSV1></OFX>`;

describe('OFX', () => {
	test('1.x as SGML: unclosed fields, signs in words, decimal comma, two accounts, what is missing is told', async () => {
		const { lines, unread, format } = await read(iconv.encode(OFX_SGML, 'windows-1252'));
		expect(format).toBe('ofx');
		expect(lines.map(short)).toEqual([
			'2026-02-03 | -42.10 | AT&T & CO <3 | phone',
			'2026-02-04 | 1200.00 | Gull | ',
			'2026-02-06 | -9.99 | Café | '
		]);
		expect(lines.map((line) => [line.account, line.currency, line.reference])).toEqual([
			['000-4417', 'CAD', 'A1'],
			['000-4417', 'CAD', 'A2'],
			['card-9', 'USD', 'C1']
		]);
		expect(lines[0].original).toContain('20260203120000[-5:EST]');
		expect(unread).toMatchObject([
			{ position: 3, what: 'has no amount that can be read' },
			{ position: 4, what: 'has no day that can be read' }
		]);
	});
	test('2.x as XML: lower case, numbered signs, CDATA', async () => {
		expect((await read(OFX_XML)).lines.map(short)).toEqual(['2026-02-03 | -5.00 | Müller | <b> & more']);
	});
	test('cut anywhere, it reads the same', async () => {
		for (const file of [OFX_SGML, OFX_XML]) {
			const whole = await read(file);
			for (const size of [1, 7, 64]) expect(await read(file, {}, size)).toEqual(whole);
		}
	});
	test('ten megabytes in one field are one short field', async () => {
		const huge = OFX_XML.replace('<name>', `<name>${'x'.repeat(10_000_000)}`);
		const { lines } = await read(huge, {}, 65_536);
		expect(lines[0].who).toHaveLength(FIELD_MAX);
		expect(lines[0].words).toBe('<b> & more');
	});
	test('a tag that never ends, and a file without a statement', async () => {
		const { lines } = await read(OFX_XML.replace('<name>', `<name><${'x'.repeat(5000)} `));
		expect(lines[0].who.startsWith('<xxx')).toBe(true);
		await expect(read('OFXHEADER:100\n\nnothing')).rejects.toMatchObject({ code: 'unreadable_file' });
	});
});

const QIF = `!Account\nNChequing 4417\nTBank\n^\n!Type:Bank \nD1/31'26\nT-1,234.50\nPRent\nMJanuary\nLOffice:Rent\n^\nD02/ 3'26\nU12.00\nN101\nPSale\nSSplit\n$5.00\n^\nDnever\nT1\n^\n!Type:Cat\nNFood\n^\n!Type:CCard\nD2/4/2026\nT-3\nPTea\n`;

describe('QIF', () => {
	test('sections, apostrophes before years, splits, lists passed over, a last record without its sign', async () => {
		const { lines, unread, order } = await read(QIF);
		expect(order).toBe('mdy');
		expect(lines.map(short)).toEqual(['2026-01-31 | -1234.50 | Rent | January', '2026-02-03 | 12.00 | Sale | ', '2026-02-04 | -3.00 | Tea | ']);
		expect(lines[0]).toMatchObject({
			category: 'Office:Rent',
			account: 'Chequing 4417',
			original: ["1/31'26", '-1,234.50', '', 'Rent', 'January', 'Office:Rent']
		});
		expect(unread).toMatchObject([{ position: 3, what: 'has no day that can be read' }]);
		for (const size of [1, 13]) expect((await read(QIF, {}, size)).lines).toEqual(lines);
	});
	test('days in doubt are read as a person says', async () => {
		const file = '!Type:Cash\r\nD03/04/2026\r\nT1,5\r\n^\r\nD05/04/2026\r\nT2,25\r\n^';
		expect((await read(file)).order).toBeNull();
		expect((await read(file, { order: 'dmy' })).lines.map((line) => [line.day, line.amount])).toEqual([
			['2026-04-03', '1.50'],
			['2026-04-05', '2.25']
		]);
	});
	test('a line without end is cut, what follows is read', async () => {
		const { lines } = await read(`!Type:Bank\nD2026-01-02\nT5\nP${'y'.repeat(2_000_000)}\nMafter\n^\n`, {}, 65_536);
		expect(lines).toHaveLength(1);
		expect(lines[0].who.length).toBeLessThanOrEqual(FIELD_MAX);
		expect(lines[0].words).toBe('after');
	});
});

const entry = (inside: string) => `<Ntry>${inside}</Ntry>`;
const camt = (entries: string, version = '02') =>
	`<?xml version="1.0" encoding="UTF-8"?><!DOCTYPE x [<!ENTITY a "boom">]><Document xmlns="urn:iso:std:iso:20022:tech:xsd:camt.053.001.${version}"><BkToCstmrStmt><Stmt><Acct><Id><IBAN>CA12</IBAN></Id></Acct>${entries}</Stmt></BkToCstmrStmt></Document>`;
const SINGLE = entry(
	`<Amt Ccy="EUR">12.5</Amt><CdtDbtInd>DBIT</CdtDbtInd><Sts>BOOK</Sts><BookgDt><Dt>2026-03-29</Dt></BookgDt><AcctSvcrRef>R1</AcctSvcrRef><NtryDtls><TxDtls><Refs><EndToEndId>E1</EndToEndId></Refs><AmtDtls><InstdAmt><Amt Ccy="USD">14</Amt></InstdAmt></AmtDtls><RltdPties><Dbtr><Nm>Us</Nm></Dbtr><Cdtr><Nm>Ink &amp; Co</Nm></Cdtr></RltdPties><RmtInf><Ustrd>Invoice</Ustrd><Ustrd>7</Ustrd></RmtInf></TxDtls></NtryDtls>`
);
const part = (amount: string, name: string) =>
	`<TxDtls><Amt Ccy="EUR">${amount}</Amt><CdtDbtInd>CRDT</CdtDbtInd><RltdPties><Dbtr><Pty><Nm>${name}</Nm></Pty></Dbtr></RltdPties></TxDtls>`;
const BATCH = (second: string) =>
	entry(
		`<NtryRef>N2</NtryRef><Amt Ccy="EUR">30.00</Amt><CdtDbtInd>CRDT</CdtDbtInd><Sts><Cd>BOOK</Cd></Sts><BookgDt><DtTm>2026-03-30T23:30:00+02:00</DtTm></BookgDt><NtryDtls>${part('10.01', 'Ann')}${part(second, 'Bob')}</NtryDtls><AddtlNtryInf>salaries</AddtlNtryInf>`
	);

describe('camt.053', () => {
	test('an entry, and a gathered one in its parts, in several versions', async () => {
		for (const version of ['02', '08']) {
			const { lines, format } = await read(camt(SINGLE + BATCH('19.99'), version), {}, 50);
			expect(format).toBe('camt');
			expect(lines.map(short)).toEqual([
				'2026-03-29 | -12.50 | Ink & Co | Invoice 7',
				'2026-03-30 | 10.01 | Ann | salaries',
				'2026-03-30 | 19.99 | Bob | salaries'
			]);
			expect(lines.map((line) => line.reference)).toEqual(['R1', 'N2/1', 'N2/2']);
			expect(lines[0]).toMatchObject({ currency: 'EUR', account: 'CA12' });
		}
	});
	test('parts that do not add up stay one line', async () => {
		expect((await read(camt(BATCH('19.98')))).lines.map((line) => line.amount)).toEqual(['30.00']);
	});
	test('what waits is told, not read; prefixes are read through', async () => {
		const { lines, unread } = await read(camt(SINGLE.replace('BOOK', 'PDNG')));
		expect(lines).toEqual([]);
		expect(unread).toMatchObject([{ what: 'is not booked yet' }]);
		expect(
			(
				await read(
					camt(SINGLE)
						.replace(/<(\/?)(?=[A-Z][a-zA-Z])(?!DOCTYPE)/g, '<$1n:')
						.replace('xmlns=', 'xmlns:n=')
				)
			).lines
		).toHaveLength(1);
	});
	test('damaged, another XML, and entities of a document type are refused', async () => {
		await expect(read(camt(SINGLE).slice(0, -30))).rejects.toMatchObject({ code: 'unreadable_file' });
		await expect(read(camt(SINGLE.replace('Us', '&a;')))).rejects.toMatchObject({ code: 'unreadable_file' });
		await expect(read('<?xml version="1.0"?><invoice/>')).rejects.toMatchObject({ code: 'unreadable_file' });
	});
});

describe('MT940', () => {
	const head = ':20:X\r\n:25:GULL/0020447710\r\n:60F:C260331CAD12204,11\r\n';
	const end = ':62F:C260430CAD1,\r\n-\r\n';
	test('fields set apart, words that go on, sides and what is taken back, cut anywhere', async () => {
		const file = `${head}:61:2604020402D512,50NTRFNONREF//B17\r\n/OCMT/\r\n:86:166?00TRANSFER?20RENT OF?21THE SHED?32ROPE WALK\r\n:61:260415RC100,NMSCORDER 2041\r\n:86:Order 2041, taken\r\n back\r\n:61:260416C7,00NMSC\r\n${end}`;
		for (const size of [1_000_000, 5]) {
			const { lines, unread, format } = await read(file, {}, size);
			expect(format).toBe('mt940');
			expect(lines.map(short)).toEqual([
				'2026-04-02 | -512.50 | ROPE WALK | TRANSFER · RENT OF THE SHED',
				'2026-04-15 | -100.00 |  | Order 2041, taken back',
				'2026-04-16 | 7.00 |  | '
			]);
			expect(lines.map(({ reference }) => reference)).toEqual(['B17', 'ORDER 2041', '']);
			expect(lines[0]).toMatchObject({ account: 'GULL/0020447710', currency: 'CAD' });
			expect(unread).toEqual([]);
		}
	});
	test('what cannot be read is told, and a file without a balance is none', async () => {
		const { lines, unread } = await read(`${head}:61:261302D1,NMSC\r\n:61:nothing\r\n${end}`);
		expect(lines).toEqual([]);
		expect(unread.map(({ what }) => what)).toEqual(['has no day that can be read', 'has no day that can be read']);
		await expect(read(':20:X\r\n:25:1\r\n:61:260402D1,NMSC\r\n')).rejects.toThrow('has no balance in it');
	});
	test('a line without end is cut, what follows is read', async () => {
		const { lines } = await read(`${head}:61:260402D1,NMSC\n:86:${'x'.repeat(300_000)}\n:61:260403D2,NMSC\n${end}`);
		expect(lines.map(({ amount, words }) => [amount, words.length])).toEqual([
			['-1.00', FIELD_MAX],
			['-2.00', 0]
		]);
	});
});

describe('CSV', () => {
	test('a bank’s table with lines before its heading, debit and credit apart', async () => {
		const { lines, unread, columns, header, order } = await read(
			'Account;4417;;\n\nDate;Libellé;Débit;Crédit\n31.01.2026;Loyer;1.200,00;\n01.02.2026;"Vente; caisse";;12,5\n02.02.2026;rien;;\nTotal;;1.200,00;12,5\n'
		);
		expect(header).toEqual(['Date', 'Libellé', 'Débit', 'Crédit']);
		expect(columns).toEqual(['day', 'words', 'out', 'in']);
		expect(order).toBe('dmy');
		expect(lines.map(short)).toEqual(['2026-01-31 | -1200.00 |  | Loyer', '2026-02-01 | 12.50 |  | Vente; caisse']);
		expect(lines[1].original).toEqual(['01.02.2026', 'Vente; caisse', '', '12,5']);
		expect(unread).toHaveLength(2);
	});
	test('a ledger with documents, a side of debit or credit, a formula that was guarded', async () => {
		const { lines } = await read(
			"Date,Payee,Memo,Category,Amount,Dr/Cr,Receipt\n2026-03-01,Ink,paper,Office,10.00,DR,no\n2026-03-02,Gull,'=1+1,Uncategorized,20.00,CR,scan-7.pdf\n"
		);
		expect(lines.map((line) => [line.amount, line.words, line.category, line.document])).toEqual([
			['-10.00', 'paper', 'Office', ''],
			['20.00', '=1+1', 'Uncategorized', 'scan-7.pdf']
		]);
	});
	test('without headings, columns are told by what stands in them; chosen by hand they are taken', async () => {
		const file = '03/14/2026,COFFEE BAR 12,4.50,100.00\n03/15/2026,PARKING,7.00,93.00\n';
		expect((await read(file)).columns).toEqual(['day', 'words', 'amount', null]);
		const flipped = await read(file, { columns: ['day', 'who', 'amount', null], flip: true });
		expect(flipped.lines.map(short)).toEqual(['2026-03-14 | -4.50 | COFFEE BAR 12 | ', '2026-03-15 | -7.00 | PARKING | ']);
		expect((await read(file, { columns: [null, 'who', 'amount', null] })).unread).toHaveLength(2);
		expect(recogniseCsvColumns(['Date', 'Date', 'Montant'], [])).toEqual(['day', null, 'amount']);
	});
	test('line breaks within quotation marks, and an inch that is no quotation mark, wherever the file is cut', async () => {
		const file = `Date,Payee,Amount\n${Array.from({ length: 3000 }, (_, i) => `2026-01-05,"Pipe ""${i}""\nof 5"" steel",${i}.00\n2026-01-06,5" pipe,1.00`).join('\n')}\n`;
		const { lines, unread } = await read(file, {}, 4096);
		expect(unread).toEqual([]);
		expect(lines).toHaveLength(6000);
		expect(lines[4].who).toBe('Pipe "2" of 5" steel');
		expect(lines[5].who).toBe('5" pipe');
	});
	test('encodings: UTF-16 with and without mark, Windows-1252, UTF-8 with a mark; cut within letters', async () => {
		const text = 'Date,Payee,Amount\n2026-01-05,Café “Ö”,5.00\n';
		const windows = iconv.encode(text, 'windows-1252');
		for (const bytes of [
			Buffer.from(text),
			Buffer.from(`\ufeff${text}`),
			Buffer.from(`\ufeff${text}`, 'utf16le'),
			Buffer.from(text, 'utf16le'),
			iconv.encode(text, 'utf-16be', { addBOM: true }),
			windows
		])
			for (const size of [bytes.length, 1, 3]) expect((await read(bytes, {}, size)).lines.map(short)).toEqual(['2026-01-05 | 5.00 | Café “Ö” | ']);
	});
	test('what is no table is named as what it is', async () => {
		for (const bytes of [Buffer.from('PK\x03\x04abc'), Buffer.from('%PDF-1.7'), Buffer.from([1, 0, 2, 0, 0]), Buffer.from('')])
			await expect(read(bytes)).rejects.toMatchObject({ code: 'unreadable_file' });
		await expect(read('hello\nworld\n')).rejects.toMatchObject({ code: 'unreadable_file' });
		await expect(read('Date,Payee,Amount\n')).rejects.toMatchObject({ code: 'unreadable_file' });
		await expect(read(`Date,Payee,Amount\n2026-01-01,"${'z\n'.repeat(600_000)}`, {}, 65_536)).rejects.toMatchObject({ code: 'unreadable_file' });
	});
	test('which form a file has', () => {
		expect(formatOf('{1:F01GULLCAAXXXX')).toBe('mt940');
		expect(formatOf(':20:STARTUMS\r\n:25:x')).toBe('mt940');
		expect(formatOf('\ufeff  OFXHEADER:100')).toBe('ofx');
		expect(formatOf('!Type:Bank')).toBe('qif');
		expect(formatOf('<?xml version="1.0"?><Document>')).toBe('camt');
		expect(formatOf('a,b')).toBe('csv');
	});
});
