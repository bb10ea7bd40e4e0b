/** Words as they stand on a page, in points from its upper left corner. */
export interface PrintedRun {
	text: string;
	x: number;
	/** of its foot */
	y: number;
	width: number;
	/** of its letters */
	height: number;
}
export interface PrintedPage {
	width: number;
	height: number;
	runs: PrintedRun[];
}

/** A box on a page; its sides are parts of the page's width and height, so that it is right at any size. */
export interface PlaceOnPage {
	/** from 1 */
	page: number;
	x: number;
	y: number;
	width: number;
	height: number;
}

/** Words that stand together on a line, with free room on both sides: a cell of a table, a label, a sentence. */
export interface Cell {
	text: string;
	x: number;
	right: number;
	height: number;
	/** where each run of it begins in the text */
	parts: { start: number; x: number; width: number; length: number }[];
}
export interface Line {
	page: number;
	pageWidth: number;
	pageHeight: number;
	y: number;
	cells: Cell[];
	/** the cells with room between them */
	text: string;
	/** where each cell begins in the text */
	starts: number[];
}

/** Free room between cells, and between words, in heights of their letters. */
const CELL_GAP = 0.9;
const WORD_GAP = 0.12;

/**
 * The lines of some pages as a person reads them: by where the words stand, whatever their order in the file is. Words of a line that are
 * apart are cells.
 */
export function linesOf(pages: readonly PrintedPage[]): Line[] {
	return pages.flatMap((page, n) => {
		const runs = page.runs.filter(({ text, height }) => text.trim() && height > 0).sort((a, b) => a.y - b.y || a.x - b.x);
		const rows: PrintedRun[][] = [];
		for (const run of runs) {
			const row = rows.at(-1);
			const [first] = row ?? [];
			if (first && Math.abs(run.y - first.y) <= Math.min(run.height, first.height) * 0.45) row!.push(run);
			else rows.push([run]);
		}
		return rows.map((row): Line => {
			const cells: Cell[] = [];
			for (const run of row.sort((a, b) => a.x - b.x)) {
				const last = cells.at(-1);
				const gap = last ? run.x - last.right : Infinity;
				const begun = run.text.length - run.text.trimStart().length;
				const text = run.text.trim();
				const part = { x: run.x + (run.width * begun) / run.text.length, width: (run.width * text.length) / run.text.length, length: text.length };
				if (last && gap < CELL_GAP * Math.max(run.height, last.height)) {
					const between = gap > WORD_GAP * run.height || begun > 0 ? ' ' : '';
					last.parts.push({ start: last.text.length + between.length, ...part });
					last.text += between + text;
					last.right = Math.max(last.right, part.x + part.width);
				} else cells.push({ text, x: part.x, right: part.x + part.width, height: run.height, parts: [{ start: 0, ...part }] });
			}
			let text = '';
			const starts = cells.map((cell) => {
				if (text) text += '   ';
				const start = text.length;
				text += cell.text;
				return start;
			});
			return { page: n + 1, pageWidth: page.width, pageHeight: page.height, y: row[0].y, cells, text, starts };
		});
	});
}

/** Where some words of a cell stand on their page. */
export function placeOf(line: Line, cell: Cell, start = 0, end = cell.text.length): PlaceOnPage {
	const edge = (at: number) => {
		const part = cell.parts.findLast((one) => one.start <= at) ?? cell.parts[0];
		return part.x + (part.width * Math.min(at - part.start, part.length)) / part.length;
	};
	const [left, right] = [edge(start), edge(end)];
	const part = (value: number, of: number) => Math.min(1, Math.max(0, Math.round((value / of) * 10_000) / 10_000));
	return {
		page: line.page,
		x: part(left, line.pageWidth),
		y: part(line.y - cell.height, line.pageHeight),
		width: part(right - left, line.pageWidth),
		height: part(cell.height * 1.2, line.pageHeight)
	};
}
