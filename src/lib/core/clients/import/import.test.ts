import fc from 'fast-check';
import Papa from 'papaparse';
import { describe, expect, test } from 'vitest';
import { firmFacts, READY_MADE_FACTS, RESERVED_NAMES } from '../../facts/fact-definition';
import { exportColumns, importColumns, OWN_COLUMN_NAMES, recogniseColumns } from './columns';
import { guardCell, unguardCell } from '../../tables/formula-guard';
import { writeCsv } from '../../tables/write-csv';
import { likeness, NameIndex, trigrams } from './name-index';
import { planImport, type Decision, type KnownWorld } from './plan-import';
import { IMPORT_ROWS_MAX } from './list-file';
import { rowsBelow } from '../../tables/read-rows';
import { columnsUnder, readClientFile as readWith } from './read-file';

const FACTS = firmFacts(READY_MADE_FACTS);
const readClientFile = (bytes: Uint8Array) => readWith(bytes, FACTS);

const utf8 = (text: string) => new TextEncoder().encode(text);
const utf16 = (text: string, mark: boolean, bigEndian: boolean) => {
	const bytes = Buffer.from((mark ? '\ufeff' : '') + text, 'utf16le');
	return new Uint8Array(bigEndian ? bytes.swap16() : bytes);
};

describe('reading a file', () => {
	const text = 'Client;E-mail\r\nCafé à la Mer;cafe@mer.example\r\n';
	test.each([
		['UTF-8', utf8(text)],
		['UTF-8 with its mark', utf8('\ufeff' + text)],
		['UTF-16 little', utf16(text, true, false)],
		['UTF-16 big', utf16(text, true, true)],
		['UTF-16 without a mark', utf16(text, false, false)],
		['UTF-16 big without a mark', utf16(text, false, true)],
		['Windows-1252', new Uint8Array(Buffer.from(text, 'latin1'))]
	])('%s', (_, bytes) => {
		const file = readClientFile(bytes);
		expect(file.columns).toEqual(['client', 'email']);
		expect(rowsBelow(file.rows, file.headingLine)).toEqual([{ line: 2, cells: ['Café à la Mer', 'cafe@mer.example'] }]);
	});

	test('Windows-1252 has signs that Latin-1 has not', () => {
		const bytes = new Uint8Array([...utf8('Client,Phone\n'), 0x80, 0x94, ...utf8(',1')]);
		expect(readClientFile(bytes).rows[1].cells[0]).toBe('€”');
		expect(readClientFile(bytes).format).toBe('commas, Windows-1252');
	});

	test.each([',', ';', '\t'])('separator %j, quoted separators and line breaks, empty rows counted but not read', (separator) => {
		const row = (...cells: string[]) => cells.map((c) => `"${c.replaceAll('"', '""')}"`).join(separator);
		const file = readClientFile(utf8(['Client,Address'.replace(',', separator), row('Gull, "Kites"; Co', 'a\nb'), '', row('B', 'c')].join('\r\n')));
		expect(rowsBelow(file.rows, file.headingLine)).toEqual([
			{ line: 2, cells: ['Gull, "Kites"; Co', 'a\nb'] },
			{ line: 4, cells: ['B', 'c'] }
		]);
	});

	test('a list without a heading is read from its first row, addresses recognised by their look', () => {
		const file = readClientFile(utf8('Brine & Barrow,info@brine.example\nMidnight Bakery,x@midnight.example\n'));
		expect(file.columns).toEqual([null, 'email']);
		expect(file.rows.map((r) => r.line)).toEqual([1, 2]);
	});

	test('the headings are found below a title, a date and an empty line', () => {
		const file = readClientFile(utf8('Clients of 2026;;\nas of;4 May;\n;;\nClient;Contact;E-mail\nGull;Mara;mara@gull.example\n'));
		expect([file.headingLine, file.header, file.columns]).toEqual([4, ['Client', 'Contact', 'E-mail'], ['client', 'contact', 'email']]);
		expect(rowsBelow(file.rows, file.headingLine).map((row) => row.line)).toEqual([5]);
		expect(file.rows.map((row) => row.line)).toEqual([1, 2, 4, 5]);
		// said to be elsewhere, or nowhere
		expect(columnsUnder(file.rows, 2, FACTS).header).toEqual(['as of', '4 May', '']);
		expect(columnsUnder(file.rows, null, FACTS).header).toEqual(['Column 1', 'Column 2', 'Column 3']);
		// one word we know, further down, is a client and no heading
		expect(readClientFile(utf8('Gull,Mara\nStaff,Otis\n')).headingLine).toBeNull();
	});

	test('what is no list is named', () => {
		const refusal = (bytes: Uint8Array) => {
			try {
				readClientFile(bytes);
				return 'read';
			} catch (error) {
				return (error as Error).message;
			}
		};
		expect(refusal(new Uint8Array([0x50, 0x4b, 3, 4, 0, 0]))).toMatch(/spreadsheet/);
		expect(refusal(utf8('%PDF-1.7'))).toMatch(/PDF/);
		expect(refusal(utf8(' \r\n '))).toMatch(/empty/);
		expect(refusal(utf8('Client,E-mail\n'))).toMatch(/no rows/);
		expect(refusal(new Uint8Array([1, 0, 0, 2, 3, 4, 0, 0]))).toMatch(/not a list/);
		expect(refusal(utf8('Client,Phone\n"Gull,1\nB,2\n'))).toMatch(/quotation mark/);
		expect(refusal(utf8(`Client,Phone\nGull,1\n"${'B,2\n'.repeat(5000)}",3\n`))).toMatch(
			/^A cell in row 3 holds more than 10,000 letters\. Perhaps a quotation mark/
		);
		expect(refusal(utf8('Client\n' + 'x\n'.repeat(IMPORT_ROWS_MAX + 1)))).toMatch(/20,000/);
		expect(refusal(new Uint8Array(26 * 1024 * 1024))).toMatch(/25 MB/);
		expect(refusal(utf8('BEGIN:VCARD\nVERSION:3.0\nFN:Mara'))).toMatch(/cards cannot be read|no rows/);
	});

	test('vCards of both versions: an organisation is the client, a person without one is', () => {
		const cards = [
			'BEGIN:VCARD',
			'VERSION:3.0',
			'FN:Mara Whitlock',
			'ORG:Gull & String\\, Kites',
			'EMAIL;TYPE=INTERNET:mara@gull.example',
			'TEL;TYPE=CELL:+1 902 555 0142',
			'TITLE:Owner',
			'END:VCARD',
			'BEGIN:VCARD',
			'VERSION:4.0',
			'FN:Otis Vane',
			'TEL;VALUE=uri:tel:+1-902-555-0143',
			'LANG:fr-CA',
			'ADR:;;3 Mole End;Gullhaven;NS;B0X 1A0;Canada',
			'END:VCARD'
		].join('\r\n');
		const file = readClientFile(utf8(cards));
		expect(file.rows.map((row) => row.cells)).toEqual([
			['Gull & String, Kites', 'Mara Whitlock', 'mara@gull.example', '+1 902 555 0142', '', 'Owner', ''],
			['', 'Otis Vane', '', '+1-902-555-0143', 'fr', '', '3 Mole End\nGullhaven\nNS\nB0X 1A0\nCanada']
		]);
	});
});

describe('cards as phones and old programs write them', () => {
	const cells = (card: string) => readClientFile(utf8(card.replaceAll('\n', '\r\n'))).rows.map((row) => row.cells.filter((cell) => cell !== ''));
	test('vCard 2.1: bare parameters, quoted-printable with soft line breaks, another character set', () => {
		const card = [
			'BEGIN:VCARD',
			'VERSION:2.1',
			'N;CHARSET=UTF-8;ENCODING=QUOTED-PRINTABLE:Th=C3=A9riault;=C3=89vang=',
			'=C3=A9line',
			'FN;CHARSET=UTF-8;ENCODING=QUOTED-PRINTABLE:=C3=89vang=C3=A9line =',
			'Th=C3=A9riault',
			'ORG;ENCODING=QUOTED-PRINTABLE;CHARSET=ISO-8859-1:Boulangerie Th=E9riault, fils',
			'TEL;CELL;VOICE:902 555 0142',
			'EMAIL;INTERNET:eva@boul.example',
			'ADR;WORK;ENCODING=QUOTED-PRINTABLE:;;3 Mole End=0D=0AGullhaven;;;;',
			'END:VCARD'
		];
		expect(cells(card.join('\n'))).toEqual([
			['Boulangerie Thériault, fils', 'Évangéline Thériault', 'eva@boul.example', '902 555 0142', '3 Mole End\nGullhaven']
		]);
	});
	test('units of an organisation are not its name; a group is nobody; a card without FN has its name in N', () => {
		const card = (lines: string) => `BEGIN:VCARD\nVERSION:3.0\n${lines}\nEND:VCARD\n`;
		expect(cells(card('FN:Mara\nORG:Gull & String Kites;Workshop;Sails'))).toEqual([['Gull & String Kites', 'Mara', 'Workshop, Sails']]);
		expect(cells(card('FN:All clients\nKIND:group') + card('FN:More\nX-ADDRESSBOOKSERVER-KIND:group') + card('N:Whitlock;Mara;;;'))).toEqual([
			['Mara Whitlock']
		]);
		expect(() => cells(card('FN:All clients\nKIND:group'))).toThrow(/groups, not people/);
	});
});

describe('recognising columns', () => {
	test.each<[string[], (string | null)[]]>([
		[
			['Company Name', 'First name', 'SURNAME', 'E-Mail Address', 'Mobile'],
			['client', 'first_name', 'last_name', 'email', 'phone']
		],
		[
			['Name', 'Email'],
			['client', 'email']
		],
		[
			['Business', 'Name', 'e_mail'],
			['client', 'contact', 'email']
		],
		[
			['Fiscal year-end', 'VAT No.', 'Favourite colour'],
			['year_end', 'tax_number', null]
		],
		[
			['Email', 'E-mail', 'Client'],
			['email', null, 'client']
		]
	])('%j', (header, columns) => expect(recogniseColumns(header, [], FACTS)).toEqual(columns));
	test('every heading of an export is recognised', () => {
		expect(recogniseColumns(exportColumns(FACTS), [], FACTS)).toEqual(exportColumns(FACTS));
	});
	test('a fact of the firm’s own is a column, unless it is a secret, a table or no longer asked', () => {
		const own = (name: string, label: string, more: object = {}) => ({
			...READY_MADE_FACTS[0],
			name,
			label,
			is: { kind: 'words', max: 200 } as const,
			readyMade: false,
			...more
		});
		const facts = firmFacts([
			...READY_MADE_FACTS,
			own('till', 'Kind of till'),
			own('sin', 'Social insurance number', { secret: true }),
			own('people', 'Directors', { is: { kind: 'table', columns: [] } }),
			own('old', 'Old thing', { retired: true })
		]);
		expect(recogniseColumns(['Client', 'kind of till', 'Social insurance number', 'Directors', 'Old thing'], [], facts)).toEqual([
			'client',
			'till',
			null,
			null,
			null
		]);
		expect(exportColumns(facts)).toEqual(expect.arrayContaining(['till', 'old']));
		expect(importColumns(facts)).not.toContain('old');
		for (const column of ['sin', 'people']) expect(exportColumns(facts)).not.toContain(column);
	});
	test('no fact may be called as a column of ours', () => expect(RESERVED_NAMES).toEqual(expect.arrayContaining(OWN_COLUMN_NAMES)));
});

test('a cell stays one cell, whatever separates cells in the spreadsheet that opens it', () => {
	const rows = [
		['Client', 'Note;'],
		['Gull; =1+1', 'a\t=2'],
		['plain', 'a "word", and more']
	];
	const text = writeCsv(rows);
	expect(text.startsWith('\ufeffClient,"Note;"\r\n')).toBe(true);
	expect(Papa.parse<string[]>(text.slice(1).trimEnd()).data).toEqual(rows);
	for (const delimiter of [';', '\t', '|'])
		for (const cell of Papa.parse<string[]>(text.slice(1), { delimiter }).data.flat()) expect(cell).not.toMatch(/^\s*=/);
});

describe('formulas', () => {
	test.each([
		['=cmd|’/c calc’!A0', true],
		['+1+1', true],
		['-2', true],
		['@SUM(A1)', true],
		['\t=1', true],
		['+1 902 555 0142', false],
		['Gull', false]
	])('%j is made harmless: %s', (text, changed) => expect(guardCell(text) !== text).toBe(changed));
	test('whatever was written comes back', () => {
		fc.assert(
			fc.property(fc.oneof(fc.string(), fc.stringMatching(/^['=+@-]{0,4}[a-z]{0,3}$/)), (text) => {
				expect(unguardCell(guardCell(text))).toBe(text);
				expect(guardCell(text)).not.toMatch(/^[=@]/);
			})
		);
	});
});

test('names are alike as pg_trgm says', () => {
	expect([...trigrams('Gull')].sort()).toEqual(['  g', ' gu', 'gul', 'll ', 'ull']);
	const index = new NameIndex();
	index.add('gull string kites');
	index.add('brine barrow');
	// similarity('gull string kite', 'gull string kites') in PostgreSQL 15
	expect(index.like('gull string kite', 0.3)).toEqual([{ number: 0, likeness: expect.closeTo(0.8421, 4) }]);
	expect(index.like('zebra', 0.1)).toEqual([]);
	expect(likeness('', 'a')).toBe(0);
});

test('leaving out what many names share loses nobody', () => {
	const word = fc.constantFrom('services', 'limited', 'harbour', 'kites', 'gull', 'oyster', 'north', 'quay');
	const name = fc.array(fc.oneof(word, fc.stringMatching(/^[a-d]{1,5}$/)), { minLength: 1, maxLength: 4 }).map((words) => words.join(' '));
	// enough of one kind that its pieces are common
	const crowd = Array.from({ length: 400 }, (_, i) => `services limited ${i}`);
	fc.assert(
		fc.property(fc.array(name, { maxLength: 30 }), name, fc.constantFrom(0.3, 0.5, 0.8), (names, wanted, atLeast) => {
			const index = new NameIndex();
			const all = [...crowd, ...names];
			for (const each of all) index.add(each);
			const expected = all.flatMap((each, number) => (likeness(wanted, each) >= atLeast ? [number] : []));
			expect(
				index
					.like(wanted, atLeast)
					.map((found) => found.number)
					.sort((a, b) => a - b)
			).toEqual(expected);
		}),
		{ numRuns: 60 }
	);
});

const MARA = {
	id: 'a0000000-0000-4000-8000-000000000001',
	name: 'Mara Whitlock',
	email: 'mara@gull.example',
	phone: '+19025550142',
	language: 'en' as const,
	hasAccess: true
};
const GULL = '10000000-0000-4000-8000-000000000001';
const known: KnownWorld = {
	country: 'CA',
	facts: [...READY_MADE_FACTS],
	defaultResponsibleId: 'odalys',
	staff: [
		{ id: 'odalys', name: 'Odalys Fenwick', email: 'odalys@pennywhistle.example' },
		{ id: 'ferrin', name: 'Ferrin Ashgrove', email: 'ferrin@pennywhistle.example' }
	],
	services: [{ id: 'payroll', name: 'Payroll' }],
	clients: [
		{
			id: GULL,
			name: 'Gull & String Kites',
			kind: 'business',
			responsibleId: 'odalys',
			facts: { tax_number: 'R-204 881', employees: '4' },
			serviceIds: []
		}
	],
	people: [
		{ ...MARA, at: [{ clientId: GULL, role: 'owner' }] },
		{
			id: 'b0000000-0000-4000-8000-000000000002',
			name: 'Pim Whitlock',
			email: null,
			phone: null,
			language: 'en',
			hasAccess: false,
			at: [{ clientId: GULL, role: '' }]
		}
	]
};
function plan(text: string, decisions: Record<number, Decision> = {}) {
	const file = readClientFile(utf8(text));
	return planImport(
		rowsBelow(file.rows, file.headingLine),
		file.columns,
		known,
		new Map(Object.entries(decisions).map(([line, decision]) => [Number(line), decision]))
	);
}

describe('what a list would do', () => {
	test('a new client with a new person; who looks after them is the one who brings them in', () => {
		const { rows, counts } = plan('Client,Contact,E-mail,Phone\nBrine & Barrow,Wren Tolley,wren@brine.example,902 555 0190\n');
		expect(rows[0]).toMatchObject({
			outcome: 'create',
			newClient: { name: 'Brine & Barrow', kind: 'business', responsibleId: 'odalys' },
			newPerson: { name: 'Wren Tolley', email: 'wren@brine.example', phone: '+19025550190' },
			client: { line: 2 },
			person: { line: 2 },
			link: { role: '' }
		});
		expect(counts).toMatchObject({ create: 1, newClients: 1, newPeople: 1, withoutAddress: 0 });
	});

	test('two rows with one name are two people of one client; the same row twice does nothing the second time', () => {
		const { rows, counts } = plan('Client,Contact,E-mail\nBrine,Wren,wren@b.example\nBRINE,Tam,tam@b.example\nBrine,Wren,wren@b.example\n');
		expect(rows.map((r) => r.outcome)).toEqual(['create', 'update', 'same']);
		expect(rows[1]).toMatchObject({ client: { line: 2 }, newClient: null, newPerson: { name: 'Tam' } });
		expect(counts).toMatchObject({ newClients: 1, newPeople: 2 });
	});

	test('a person without a client’s name is a client of their own', () => {
		expect(plan('First name,Last name,E-mail\nOtis,Vane,otis@vane.example\n').rows[0].newClient).toEqual({
			name: 'Otis Vane',
			kind: 'person',
			responsibleId: 'odalys'
		});
	});

	test('a known client is changed where cells differ; empty cells change nothing', () => {
		const { rows } = plan('Client,Employees,Tax number,Looked after by,Runs payroll\ngull & string  kites,5,,ferrin@pennywhistle.example,\n');
		expect(rows[0]).toMatchObject({
			outcome: 'update',
			client: { id: GULL },
			setClient: { responsibleId: 'ferrin' },
			facts: [{ name: 'employees', value: '5' }]
		});
		expect(rows[0].changes).toEqual([
			{ label: 'Looked after by', from: 'Odalys Fenwick', to: 'Ferrin Ashgrove' },
			{ label: 'Employees', from: '4', to: '5' }
		]);
	});

	test('an address that is known is the same person, whoever’s client; the remark says so', () => {
		const [row] = plan('Client,Contact,E-mail\nHarbour Lights,Mara Whitlock,MARA@gull.example\n').rows;
		expect(row).toMatchObject({ outcome: 'create', person: { id: MARA.id }, newPerson: null, link: { role: '' } });
		expect(row.remark).toContain('Gull & String Kites');
	});

	test('a missing address is filled in; the address somebody signs in with is not changed by a list', () => {
		expect(plan('Client,Contact,E-mail\nGull & String Kites,Pim Whitlock,pim@gull.example\n').rows[0]).toMatchObject({
			outcome: 'update',
			setPerson: { email: 'pim@gull.example' }
		});
		expect(plan('Client,Contact,E-mail\nGull & String Kites,Mara Whitlock,thief@evil.example\n').rows[0]).toMatchObject({
			outcome: 'wrong',
			problems: [{ column: 'email' }]
		});
	});

	test.each([
		['Client,Tax number\nGulls and Strings,R204881\n', 'has the same tax number'],
		['Client\nGull and String Kites Ltd\n', 'has the same name'],
		['Client\nGull & String Kite\n', 'has a similar name'],
		['Client,Tax number\nGull & String Kites,X-1\n', 'has the same name and another tax number'],
		['Client,E-mail\nString Kite Works,mara@gull.example\n', 'has a name like it and the same e-mail address'],
		['Client,Contact,Phone\nString Kite Works,M W,902-555-0142\n', 'has a name like it and the same phone number']
	])('doubt is put to a person: %j %s', (text, why) => {
		const [row] = plan(text).rows;
		expect(row).toMatchObject({ outcome: 'ask', likely: [{ decision: `client:${GULL}`, name: 'Gull & String Kites', why }] });
		expect(plan(text, { 2: 'new' }).rows[0].outcome).toBe('create');
		expect(plan(text, { 2: 'skip' }).rows[0].outcome).toBe('skip');
		expect(['update', 'same']).toContain(plan(text, { 2: `client:${GULL}` }).rows[0].outcome);
	});

	test('rows that are exact repeats stay one client when none of the doubtful is a client yet', () => {
		const text =
			'Client,Contact,E-mail\nGull & String Kite,Wren,w@k.example\nGull & String Kite,Wren,w@k.example\nGull & String Kite,Tam,t@k.example\n';
		const all = (decision: Decision) => plan(text, { 2: decision, 3: decision, 4: decision });
		expect(all('not_ours').rows.map((row) => row.outcome)).toEqual(['create', 'same', 'update']);
		expect(all('not_ours').counts).toMatchObject({ newClients: 1, newPeople: 2 });
		// somebody who says it of each row means it of each row
		expect(all('new').counts).toMatchObject({ newClients: 3 });
	});

	test('names that differ by a number are not alike, unless address or phone is the same', () => {
		const text = 'Client,Contact,E-mail\nHarbour Lot 12,Wren,w@l.example\nHarbour Lot 13,Tam,t@l.example\nHarbour Lot 14,Wren,w@l.example\n';
		const { rows } = plan(text);
		expect(rows.map((row) => row.outcome)).toEqual(['create', 'create', 'ask']);
		expect(rows[2].likely).toEqual([{ decision: 'row:2', name: 'Harbour Lot 12', why: 'has a name like it and the same e-mail address' }]);
	});

	test.each([
		['Contact\n"Tolley, Wren"\n', 'Wren Tolley', null],
		['Contact\nWren Tolley <wren@b.example>\n', 'Wren Tolley', 'wren@b.example'],
		['Contact\n"""Tolley, Wren"" <wren@b.example>"\n', 'Wren Tolley', 'wren@b.example'],
		['Contact,E-mail\n,Wren Tolley <wren@b.example>\n', 'Wren Tolley', 'wren@b.example'],
		['Contact,E-mail\nW. Tolley,<wren@b.example>\n', 'W. Tolley', 'wren@b.example'],
		['Contact\n"Wren Tolley, CPA"\n', 'Wren Tolley, CPA', null],
		['Contact\n"Tolley, Wren, and Tam"\n', 'Tolley, Wren, and Tam', null]
	])('a person in one cell: %j', (text, name, email) => {
		expect(plan(text).rows[0].newPerson).toMatchObject({ name, email });
	});

	test.each(['Payroll, Year end', 'Payroll and Year end', 'Payroll; Year end', 'Payroll\nYear end', 'payroll + year end'])(
		'several services in a cell: %j',
		(cell) => {
			const services = [
				{ id: 'payroll', name: 'Payroll' },
				{ id: 'year', name: 'Year end' },
				{ id: 'both', name: 'Reviews, audits and advice' }
			];
			const ids = (text: string) =>
				planImport([{ line: 2, cells: ['Gull', text] }], ['client', 'services'], { ...known, services }, new Map()).rows[0].serviceIds;
			expect(ids(cell)).toEqual(['payroll', 'year']);
			expect(ids('Reviews, audits and advice')).toEqual(['both']);
		}
	);

	test('doubt within the list too', () => {
		const text = 'Client,Contact,E-mail\nBrine & Barrow,Wren,w@b.example\nBrine and Barrow Ltd,Tam,t@b.example\n';
		expect(plan(text).rows[1]).toMatchObject({ outcome: 'ask', likely: [{ decision: 'row:2' }] });
		expect(plan(text, { 3: 'row:2' }).rows[1]).toMatchObject({ outcome: 'update', client: { line: 2 } });
	});

	test.each([
		['Client,E-mail\nA,not an address\n', 'email'],
		['Client,Contact,Phone\nA,B,12\n', 'phone'],
		['Client,Phone\nA,902 555 0142\n', null],
		['Client,First name,Phone\nA,,902 555 0142\n', 'first_name'],
		['Client,Kind\nA,perhaps\n', 'kind'],
		['Client,Looked after by\nA,Nobody\n', 'responsible'],
		['Client,Services\nA,Payroll; Juggling\n', 'services'],
		['Client,Employees\nA,a few\n', 'employees'],
		['Client,Year end\nA,02-30\n', 'year_end'],
		['Client,Record\nA,10000000-0000-4000-8000-0000000000ff\n', 'record'],
		['Client,Employees\n,3\n', 'client'],
		['Client,Employees\nA,3,surplus\n', null],
		['Client,Contact,E-mail\nA,Wren,w@b.example\nB,Tam,w@b.example\n', 'email']
	])('a mistake is told by row and column: %j %s', (text, column) => {
		const wrong = plan(text).rows.find((row) => row.outcome === 'wrong');
		expect(wrong?.problems[0].column).toBe(column);
		expect(plan(text).counts.wrong).toBe(1);
	});

	test('cells as people write them', () => {
		const [row] = plan('Client,Runs payroll,Legal form,Year end,Kind,Services\nA,TRUE,Co-operative,2025-12-31,Company,payroll\n').rows;
		expect(row.facts).toEqual([
			{ name: 'payroll', value: 'yes' },
			{ name: 'legal_form', value: 'cooperative' },
			{ name: 'year_end', value: '12-31' }
		]);
		expect(row).toMatchObject({ newClient: { kind: 'business' }, serviceIds: ['payroll'] });
	});

	test('whatever a file holds, it is read or refused in words, and planned', () => {
		fc.assert(
			fc.property(fc.array(fc.array(fc.string({ unit: 'binary', maxLength: 12 }), { maxLength: 5 }), { maxLength: 6 }), (cells) => {
				const text = Papa.unparse([['Client', 'Contact', 'E-mail', 'Phone'], ...cells]);
				let file;
				try {
					file = readClientFile(utf8(text));
				} catch (error) {
					expect((error as { code: string }).code).toMatch(/unreadable_file|too_many/);
					return;
				}
				const { rows, counts } = planImport(rowsBelow(file.rows, file.headingLine), file.columns, known, new Map());
				expect(rows).toHaveLength(rowsBelow(file.rows, file.headingLine).length);
				expect(counts.wrong + counts.ask + counts.create + counts.update + counts.same + counts.skip).toBe(rows.length);
				for (const row of rows) if (row.outcome === 'create') expect(row.newClient!.name).not.toBe('');
			}),
			{ numRuns: 300 }
		);
	});
});
