import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { safeFileName } from './file-name';
import { namesByPattern, namesInArchive, whatIsWrong } from './name-pattern';

const paper = (name: string, more: object = {}) => ({ name, came: '2026-05-04', client: 'Quay Boats', folder: 'Tax', ...more });

describe('names by a pattern', () => {
	test.each([
		['{name}', 'scan 1.pdf', 'scan 1.pdf'],
		['{came} {client}', 'scan 1.pdf', '2026-05-04 Quay Boats.pdf'],
		['{ NAME } ({folder})', 'scan.PDF', 'scan (Tax).PDF'],
		['lease.pdf', 'scan 1.pdf', 'lease.pdf'],
		['lease.txt', 'scan 1.pdf', 'lease.txt.pdf'],
		['a/b\\c', 'x.pdf', 'a-b-c.pdf'],
		['{folder}', 'x', 'Tax'],
		['..', 'x.pdf', 'x.pdf']
	])('%s of %s is %s', (pattern, name, becomes) => {
		const [named] = namesByPattern(pattern, [paper(name)]);
		expect(named).toBe(becomes);
	});
	test('numbers are as wide as the last one, and what would be called the same gets one', () => {
		const ten = Array.from({ length: 10 }, () => paper('a.pdf'));
		expect(namesByPattern('p{number}', ten).slice(0, 2)).toEqual(['p01.pdf', 'p02.pdf']);
		expect(namesByPattern('lease', [paper('a.pdf'), paper('b.pdf'), paper('c.jpg'), paper('D.PDF')])).toEqual([
			'lease.pdf',
			'lease (2).pdf',
			'lease.jpg',
			'lease (3).PDF'
		]);
	});
	test('whatever is written, each name is safe, its own, and keeps its ending', () => {
		const ending = fc.constantFrom('.pdf', '.JPG', '.xlsx', '');
		const papers = fc.array(
			fc.record({
				name: fc.tuple(fc.string({ minLength: 1, maxLength: 40 }), ending).map(([stem, end]) => safeFileName(`${stem}${end}`)),
				came: fc.constant('2026-05-04'),
				client: fc.string(),
				folder: fc.string()
			}),
			{ maxLength: 12 }
		);
		fc.assert(
			fc.property(fc.oneof(fc.string({ maxLength: 60 }), fc.constantFrom('{name}', '{client}{folder}', '{number}')), papers, (pattern, given) => {
				const names = namesByPattern(pattern, given);
				expect(new Set(names.map((name) => name.toLowerCase())).size).toBe(given.length);
				for (const [at, name] of names.entries()) {
					expect(safeFileName(name)).toBe(name);
					const end = /\.(pdf|jpg|xlsx)$/i.exec(given[at].name)?.[0];
					if (end) expect(name.endsWith(end)).toBe(true);
				}
			})
		);
	});
	test('what means nothing is said by name', () => {
		expect(whatIsWrong('{date} {name}')).toContain('{date} means nothing here');
		expect(whatIsWrong('  ')).toContain('Write what');
		for (const fine of ['{name}', '{ Came }', 'a } b', 'lease']) expect(whatIsWrong(fine), fine).toBeNull();
	});
});

test('in an archive no two lie on one path, on systems that do not tell large letters from small ones either', () => {
	expect(
		namesInArchive([
			{ name: 'a.pdf', folder: '' },
			{ name: 'A.pdf', folder: '' },
			{ name: 'a.pdf', folder: 'Tax' },
			{ name: 'a.pdf', folder: 'Tax/../..' },
			{ name: 'a.pdf', folder: 'tax' }
		])
	).toEqual(['a.pdf', 'A (2).pdf', 'Tax/a.pdf', 'Tax-..-/a.pdf', 'tax/a (2).pdf']);
});
