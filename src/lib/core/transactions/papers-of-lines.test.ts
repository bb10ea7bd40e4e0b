import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { bestPairs, type Weighed } from './best-pairs';
import { papersOfLines, searchedSums, sumsOfPaper, type LineWithoutPaper, type PaperHere } from './papers-of-lines';

const total = (edges: readonly Weighed[]) => edges.reduce((sum, { weight }) => sum + weight, 0);

/** The most that pairs can weigh together, by trying all of them. */
function mostByTrying(edges: readonly Weighed[], from = 0, left = new Set<string>(), right = new Set<string>()): number {
	if (from === edges.length) return 0;
	const edge = edges[from];
	const without = mostByTrying(edges, from + 1, left, right);
	if (left.has(edge.left) || right.has(edge.right)) return without;
	return Math.max(without, edge.weight + mostByTrying(edges, from + 1, new Set([...left, edge.left]), new Set([...right, edge.right])));
}

describe('the best pairs', () => {
	test('weigh as much as any can, and use nothing twice', () => {
		const some = fc.uniqueArray(
			fc.record({
				left: fc.constantFrom('a', 'b', 'c', 'd', 'e'),
				right: fc.constantFrom('a', 'b', 'c', 'd'),
				weight: fc.integer({ min: 1, max: 24 })
			}),
			{ selector: ({ left, right }) => `${left}${right}`, maxLength: 13 }
		);
		fc.assert(
			fc.property(some, (edges) => {
				const pairs = bestPairs(edges);
				expect(total(pairs)).toBe(mostByTrying(edges));
				expect(new Set(pairs.map(({ left }) => left)).size).toBe(pairs.length);
				expect(new Set(pairs.map(({ right }) => right)).size).toBe(pairs.length);
				for (const pair of pairs) expect(edges).toContain(pair);
			}),
			{ numRuns: 400 }
		);
	});
	test('give up the nearest one where all together fit better', () => {
		// whoever takes the heaviest first leaves b with nothing
		const pairs = bestPairs([
			{ left: 'a', right: 'x', weight: 9 },
			{ left: 'a', right: 'y', weight: 8 },
			{ left: 'b', right: 'x', weight: 8 }
		]);
		expect(pairs.map(({ left, right }) => left + right).sort()).toEqual(['ay', 'bx']);
	});
	test('of many that hang together are found all the same', () => {
		const n = 300;
		const edges = Array.from({ length: n }, (_, i) =>
			Array.from({ length: 5 }, (_, k) => ({ left: `${i}`, right: `${(i + k) % n}`, weight: 10 - k }))
		).flat();
		expect(total(bestPairs(edges))).toBe(n * 10);
	});
});

const line = (id: string, day: string, amount: string, who: string, words = ''): LineWithoutPaper => ({ id, day, amount, who, words });
const paper = (id: string, words: string | null, name = `${id}.pdf`): PaperHere => ({ id, name, note: '', words });
const found = (lines: LineWithoutPaper[], papers: PaperHere[], refused: { lineId: string; paperId: string }[] = []) =>
	papersOfLines(lines, papers, refused)
		.map(({ lineId, paperId, sure }) => `${lineId}-${paperId}${sure ? '' : '?'}`)
		.sort()
		.join(' ');

describe('papers of lines', () => {
	test('are known by the sum with the day and who was paid, and say why', () => {
		const [pair] = papersOfLines(
			[line('l', '2026-04-09', '-1284.50', 'HARBOUR Hardware', 'CARD INV-20418')],
			[paper('p', 'Harbour Hardware Ltd. Invoice INV-20418 of April 7, 2026. Total: $1,284.50')]
		);
		expect(pair).toMatchObject({ sure: true, score: 13.5 });
		expect(pair.signs.map(({ says }) => says)).toEqual([
			'1,284.50 stands in it',
			'it is of 2 days before',
			'it names HARBOUR',
			'INV-20418 stands in both'
		]);
	});
	test('however the sum and the day are written; a photo is known by its name', () => {
		const lines = [line('l', '2026-04-07', '-1284.50', 'Café Méridien')];
		expect(found(lines, [paper('p', 'CAFE MERIDIEN facture du 7 avril 2026 total 1 284,50 €')])).toBe('l-p');
		expect(found(lines, [paper('p', 'Café Meridien 07.04.2026 Summe 1.284,50')])).toBe('l-p');
		expect(found(lines, [paper('p', null, '2026-04-07_meridien_1284.50.jpg')])).toBe('l-p');
		// either day or month: 4 July is no day near, 7 April is
		expect(found(lines, [paper('p', 'Meridien 04/07/2026 1,284.50')])).toBe('l-p');
	});
	test('are not taken for it by the sum alone, by days far away, or without the sum', () => {
		const lines = [line('l', '2026-04-07', '-84.20', 'Harbour Hardware')];
		expect(found(lines, [paper('p', 'Total 84.20')])).toBe('');
		expect(found(lines, [paper('p', 'Total 84.20 on 2025-11-03')])).toBe('');
		expect(found(lines, [paper('p', 'Harbour Hardware 2026-04-07 Total 184.20')])).toBe('');
		// who was paid, but of no known day: somebody looks
		expect(found(lines, [paper('p', 'Harbour Hardware 84.20')])).toBe('l-p?');
		expect(found(lines, [paper('p', '2026-04-07 84.20')])).toBe('l-p?');
		// words that stand everywhere name nobody
		expect(found([line('l', '2026-04-07', '-84.20', 'Card payment')], [paper('p', 'your card payment 84.20')])).toBe('');
	});
	test('of the same sum every month go each to its own', () => {
		const months = ['01', '02', '03', '04'];
		const lines = months.map((month) => line(`l${month}`, `2026-${month}-03`, '-400.00', 'Quay Rentals'));
		const papers = months.map((month) => paper(`p${month}`, `Quay Rentals, rent, 2026-${month}-01, 400.00`));
		expect(found(lines, papers)).toBe('l01-p01 l02-p02 l03-p03 l04-p04');
		// one is missing: its line stays without, and none moves into its place as sure
		expect(found(lines, papers.slice(1))).not.toMatch(/l01-p02(?!\?)/);
	});
	test('that fit two equally are proposed, and a person says no for good', () => {
		const lines = [line('a', '2026-04-07', '-50.00', 'Seabright Fuel'), line('b', '2026-04-07', '-50.00', 'Seabright Fuel')];
		const one = [paper('p', 'Seabright Fuel 2026-04-07 50.00')];
		expect(found(lines, one)).toMatch(/^[ab]-p\?$/);
		expect(found(lines, one, [{ lineId: 'a', paperId: 'p' }])).toBe('b-p');
		expect(
			found(
				lines,
				one,
				lines.map(({ id }) => ({ lineId: id, paperId: 'p' }))
			)
		).toBe('');
	});
	test('sums of a paper are told from its days and numbers', () => {
		const words = 'No 4821 of 2026-04-07 84.20, tax 1.284,50 and 12 items';
		expect(sumsOfPaper({ name: 'a_7.00.pdf', note: '', words })).toEqual(['7.00', '84.20', '1284.50']);
	});
	test('sums are searched as the search has them', () => {
		expect(searchedSums(['-1284.50', '1284.50', '7.00', '3.125'])).toEqual(['1284c50', '284c50', '7c00']);
	});
});
