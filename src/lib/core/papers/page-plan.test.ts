import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { filesOf, looksBlank, moved, pagePlanSchema, turned, type Sheet } from './page-plan';

const PAPER = '6b1f7c1e-0000-4000-8000-000000000001';
const sheet = (page: number, more: Partial<Sheet> = {}): Sheet => ({
	id: `${PAPER} ${page}`,
	paperId: PAPER,
	page,
	turn: 0,
	out: false,
	begins: false,
	...more
});
const table = fc
	.array(fc.record({ out: fc.boolean(), begins: fc.boolean() }), { maxLength: 20 })
	.map((all) => all.map((more, n) => sheet(n + 1, more)));

describe('files of the pages on the table', () => {
	test('each goes from where one begins to the next; without a name they are numbered', () => {
		const sheets = [sheet(1), sheet(2), sheet(3, { begins: true }), sheet(4, { out: true }), sheet(5, { begins: true, out: true })];
		expect(filesOf(sheets, { [`${PAPER} 3`]: ' Lease ' }, 'scan').map(({ name, pages }) => [name, pages.map(({ page }) => page)])).toEqual([
			['scan 1', [1, 2]],
			['Lease', [3]]
		]);
		expect(filesOf([sheet(1, { turn: 90 })], {}, 'scan')).toMatchObject([{ name: 'scan', pages: [{ page: 1, turn: 90 }] }]);
	});
	test('every page that is not left out is in just one file, in order', () => {
		fc.assert(
			fc.property(table, (sheets) => {
				const pages = filesOf(sheets, {}, 'scan').flatMap((file) => file.pages.map(({ page }) => page));
				expect(pages).toEqual(sheets.filter(({ out }) => !out).map(({ page }) => page));
			})
		);
	});
	test('what is moved changes places with what stands beside it; where a file begins stays where it is', () => {
		const sheets = [sheet(1), sheet(2), sheet(3, { begins: true }), sheet(4)];
		const order = (list: Sheet[]) => list.map(({ page, begins }) => (begins ? `|${page}` : `${page}`)).join(' ');
		expect(order(moved(sheets, new Set([sheets[1].id]), 1))).toBe('1 3 |2 4');
		expect(order(moved(sheets, new Set([sheets[2].id, sheets[3].id]), -1))).toBe('1 3 |4 2');
		expect(order(moved(sheets, new Set([sheets[0].id, sheets[1].id]), -1))).toBe('1 2 |3 4');
		expect(order(moved(sheets, new Set([sheets[3].id, sheets[2].id]), 1))).toBe('1 2 |3 4');
	});
	test('moving loses and doubles nothing', () => {
		fc.assert(
			fc.property(table, fc.nat(), fc.constantFrom(-1 as const, 1 as const), (sheets, seed, by) => {
				const chosen = new Set(sheets.filter((_, n) => (seed >> n) & 1).map(({ id }) => id));
				expect(new Set(moved(sheets, chosen, by).map(({ id }) => id))).toEqual(new Set(sheets.map(({ id }) => id)));
			})
		);
	});
	test('four quarters are a whole turn', () => expect(turned(turned(turned(turned(90))))).toBe(90));
});

describe('what is sent', () => {
	const page = (n: number) => ({ paperId: PAPER, page: n, turn: 0 });
	test('no page stands in two files, and there is at least one', () => {
		const wrong = (plan: unknown) => pagePlanSchema.safeParse(plan).error?.issues[0].message;
		expect(wrong([{ name: 'a', pages: [page(1)] }])).toBeUndefined();
		expect(wrong([])).toBe('Every page is left out. Keep at least one.');
		expect(
			wrong([
				{ name: 'a', pages: [page(1)] },
				{ name: 'b', pages: [page(1)] }
			])
		).toContain('twice');
		expect(wrong([{ name: 'a', pages: Array.from({ length: 501 }, (_, n) => page(n + 1)) }])).toBeDefined();
	});
});

describe('a blank page', () => {
	const [width, height] = [100, 140];
	const drawn = (paint: (x: number, y: number) => number) => {
		const pixels = new Uint8ClampedArray(width * height * 4);
		for (let y = 0; y < height; y++) for (let x = 0; x < width; x++) pixels.fill(paint(x, y), (y * width + x) * 4, (y * width + x) * 4 + 4);
		return looksBlank(pixels, width, height);
	};
	test.each([
		['white paper', () => 255, true],
		['grey paper of a scan, with a dark edge', (x: number) => (x < 3 ? 20 : 208 + (x % 5)), true],
		['dust', (x: number, y: number) => (y === 70 && x > 40 && x < 46 ? 60 : 240), true],
		['one line of words', (x: number, y: number) => (y === 70 && x > 20 && x < 80 && x % 2 ? 30 : 255), false],
		['white words on black', (x: number, y: number) => (y > 60 && y < 70 && x % 2 ? 255 : 0), false]
	])('%s', (_, paint, blank) => expect(drawn(paint)).toBe(blank));
});
