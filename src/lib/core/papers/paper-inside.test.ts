import { describe, expect, test } from 'vitest';
import { textInside } from './paper-inside';

const inside = (name: string, text: string | Uint8Array, whole = true) =>
	textInside(name, typeof text === 'string' ? new TextEncoder().encode(text) : text, whole);

describe('what stands in a file of text', () => {
	test.each([
		[
			'till.csv',
			'day,cash\n2026-04-01,"1,180.20"\n',
			[
				['day', 'cash'],
				['2026-04-01', '1,180.20']
			]
		],
		[
			'caisse.csv',
			'jour;espèces\n1.4.2026;1180,20\n',
			[
				['jour', 'espèces'],
				['1.4.2026', '1180,20']
			]
		],
		[
			'till.tsv',
			'day\tcash\n1 Apr\t5\n',
			[
				['day', 'cash'],
				['1 Apr', '5']
			]
		]
	])('%s is a table', (name, text, rows) => expect(inside(name, text)).toEqual({ kind: 'table', rows, more: false }));
	test('other text is words, in Windows-1252 as well', () => {
		expect(inside('note.txt', 'a,b\n')).toEqual({ kind: 'text', text: 'a,b\n', more: false });
		expect(inside('note.txt', new Uint8Array([0x63, 0x61, 0x66, 0xe9, 0x20, 0x80]))).toMatchObject({ text: 'café €' });
		expect(inside('note.txt', new Uint8Array([0x61, 0, 0, 0x62]))).toBeNull();
	});
	test('what is long is cut, and says so', () => {
		expect(inside('long.txt', 'x'.repeat(70_000))).toMatchObject({ text: 'x'.repeat(60_000), more: true });
		const table = inside('long.csv', 'a,b\n'.repeat(1000));
		expect(table).toMatchObject({ more: true });
		expect(table!.kind === 'table' && table!.rows.length).toBe(400);
		expect(inside('wide.csv', `${'a,'.repeat(100)}b\n`)).toMatchObject({ rows: [expect.objectContaining({ length: 40 })] });
		// a letter of two bytes that was cut in its middle is left out
		expect(inside('cut.txt', new TextEncoder().encode('aaaaaaé').subarray(0, 7), false)).toMatchObject({ more: true });
	});
});
