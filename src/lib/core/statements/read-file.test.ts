import { describe, expect, test } from 'vitest';
import { readFileStatements } from './read-file';

const read = (text: string, size = 1_000_000) => {
	const bytes = Buffer.from(text);
	return readFileStatements(Array.from({ length: Math.ceil(bytes.length / size) }, (_, i) => bytes.subarray(i * size, (i + 1) * size)));
};
const APRIL = { lastFour: '7710', from: '2026-04-01', to: '2026-04-30', opening: '12204.11', closing: '11791.61', currency: 'CAD', spots: {} };
const PAYMENTS = { count: 2, sum: '-412.50' };

const MT940 = `{1:F01GULLCAAXXXX0000000000}{4:
:20:STARTUMS
:25:GULL/0020447710
:28C:4/1
:60F:C260331CAD12204,11
:61:2604020402D512,50NTRFNONREF//B26040200017
/OCMT/
:86:166?00TRANSFER?20RENT OF THE SHED?21APRIL?32ROPE WALK
:61:260415C100,NMSCORDER 2041
:86:Order 2041, thank you
:62F:C260430CAD11791,61
-}
`;
const OFX = `OFXHEADER:100
DATA:OFXSGML

<OFX><BANKMSGSRSV1><STMTTRNRS><STMTRS><CURDEF>CAD
<BANKACCTFROM><BANKID>001<ACCTID>0020447710<ACCTTYPE>CHECKING</BANKACCTFROM>
<BANKTRANLIST><DTSTART>20260401<DTEND>20260430120000[-4:AST]
<STMTTRN><TRNTYPE>DEBIT<DTPOSTED>20260402<TRNAMT>-512.50<FITID>1<NAME>Rope Walk</STMTTRN>
<STMTTRN><TRNTYPE>CREDIT<DTPOSTED>20260415<TRNAMT>100.00<FITID>2<NAME>Order 2041</STMTTRN>
</BANKTRANLIST><LEDGERBAL><BALAMT>11791.61<DTASOF>20260430</LEDGERBAL><AVAILBAL><BALAMT>1.00<DTASOF>20260430</AVAILBAL>
</STMTRS></STMTTRNRS></BANKMSGSRSV1></OFX>`;
const bal = (kind: string, amount: string, day: string, side = 'CRDT') =>
	`<Bal><Tp><CdOrPrtry><Cd>${kind}</Cd></CdOrPrtry></Tp><Amt Ccy="CAD">${amount}</Amt><CdtDbtInd>${side}</CdtDbtInd><Dt><Dt>${day}</Dt></Dt></Bal>`;
const entry = (amount: string, side: string) =>
	`<Ntry><Amt Ccy="CAD">${amount}</Amt><CdtDbtInd>${side}</CdtDbtInd><Sts>BOOK</Sts><BookgDt><Dt>2026-04-02</Dt></BookgDt></Ntry>`;
const camt = (inside: string) =>
	`<?xml version="1.0"?><Document xmlns="urn:iso:std:iso:20022:tech:xsd:camt.053.001.08"><BkToCstmrStmt><Stmt>
	<FrToDt><FrDtTm>2026-04-01T00:00:00</FrDtTm><ToDtTm>2026-04-30T23:59:59</ToDtTm></FrToDt>
	<Acct><Id><Othr><Id>0020447710</Id></Othr></Id></Acct>${inside}</Stmt></BkToCstmrStmt></Document>`;

describe('a bank’s file says of itself', () => {
	test('as MT940: balances, their days, and the payments between them, wherever the file is cut', async () => {
		for (const size of [1_000_000, 7]) expect(await read(MT940, size)).toEqual([{ ...APRIL, payments: PAYMENTS }]);
	});
	test('as MT940 over several pages: the balances between them count nothing, what is taken back counts the other way', async () => {
		const pages = MT940.replace(':61:260415', ':62M:C260402CAD1,\n-}\n{4:\n:20:STARTUMS\n:25:GULL/0020447710\n:60M:C260402CAD1,\n:61:260415').replace(
			'15C100,',
			'15RD100,'
		);
		expect(await read(pages)).toEqual([{ ...APRIL, payments: PAYMENTS }]);
	});
	test('as OFX: the days of its list, and the balance of the books, not what is available', async () => {
		expect(await read(OFX)).toEqual([{ ...APRIL, opening: null, payments: PAYMENTS }]);
	});
	test('as camt.053: the days it is about, opening and closing, with their side', async () => {
		const whole = camt(
			`${bal('OPBD', '12204.11', '2026-04-01')}${bal('CLBD', '11791.61', '2026-04-30')}${bal('CLAV', '1.00', '2026-04-30')}${entry('512.50', 'DBIT')}${entry('100.00', 'CRDT')}`
		);
		expect(await read(whole)).toEqual([{ ...APRIL, payments: PAYMENTS }]);
		const [overdrawn] = await read(camt(bal('PRCD', '5.00', '2026-03-31', 'DBIT')));
		expect(overdrawn).toMatchObject({ opening: '-5.00', closing: null, payments: null });
	});
	test('of several accounts one each', async () => {
		const second = OFX.replaceAll('0020447710', '0020447728');
		const both = OFX.replace('</BANKMSGSRSV1></OFX>', second.slice(second.indexOf('<STMTTRNRS>')));
		expect((await read(both)).map(({ lastFour }) => lastFour)).toEqual(['7710', '7728']);
	});
	test('a table of lines, a letter and nonsense say nothing', async () => {
		expect(await read('Date,Amount,Who\n2026-04-01,12.00,Rope Walk\n2026-04-02,13.00,Harbour Fuel\n')).toEqual([]);
		expect(await read('!Type:Bank\nD04/02/2026\nT-12.00\nPRope Walk\n^\n')).toEqual([]);
		expect(await read('Dear Mara,\nthank you.')).toEqual([]);
		expect(await read('')).toEqual([]);
		expect(await read(':20:x\n:61:nonsense\n')).toEqual([]);
	});
	test('a payment that cannot be read is not passed over in silence: then nothing is said of all of them', async () => {
		const [one] = await read(MT940.replace(':61:260415C100,', ':61:260415C'));
		expect(one).toMatchObject({ ...APRIL, payments: null });
	});
});
