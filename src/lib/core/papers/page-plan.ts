import { z } from 'zod';
import { stemAndEnding } from './name-pattern';

/** Pages that are put in order at once, at most. */
export const PAGES_MOST = 500;
/** Files that are made of them at once, at most. */
export const FILES_MOST = 60;

/** A page of a file that came, with how far it is turned to the right, in degrees. */
export interface SourcePage {
	paperId: string;
	/** from 1 */
	page: number;
	turn: 0 | 90 | 180 | 270;
}
/** A file that is to be made of pages. */
export interface PlannedFile {
	name: string;
	pages: SourcePage[];
}

/** A page as it lies on the table. */
export interface Sheet extends SourcePage {
	id: string;
	/** left out: it comes into no file */
	out: boolean;
	/** a file begins here */
	begins: boolean;
}

/** The pages on the table from where one file begins to where the next does, with what is left out of them. */
export function groupsOf(sheets: readonly Sheet[]): { beginsAt: string; sheets: Sheet[] }[] {
	const groups: { beginsAt: string; sheets: Sheet[] }[] = [];
	for (const [index, sheet] of sheets.entries()) {
		if (index === 0 || sheet.begins) groups.push({ beginsAt: sheet.id, sheets: [] });
		groups.at(-1)!.sheets.push(sheet);
	}
	return groups;
}

/**
 * The files that the pages on the table make: each goes from where one begins to where the next does, without what is left out. One of which
 * everything is left out is none.
 * @param names of the files by the id of the sheet at which each begins; others are called after the stem, with a number where there are several
 * @param stem what the files are called that have no name of their own, without an ending
 */
export function filesOf(sheets: readonly Sheet[], names: Readonly<Record<string, string>>, stem: string): (PlannedFile & { beginsAt: string })[] {
	const files = groupsOf(sheets)
		.map((group) => ({
			beginsAt: group.beginsAt,
			pages: group.sheets.filter(({ out }) => !out).map(({ paperId, page, turn }): SourcePage => ({ paperId, page, turn }))
		}))
		.filter(({ pages }) => pages.length > 0);
	return files.map(({ beginsAt, pages }, index) => ({
		beginsAt,
		name: names[beginsAt]?.trim() || (files.length === 1 ? stem : `${stem} ${index + 1}`),
		pages
	}));
}

/** The name of a file without its ending, as the files made of it are called. */
export const stemOf = (name: string): string => stemAndEnding(name).stem;

/** Turns pages by a quarter to the right. */
export const turned = (turn: SourcePage['turn']): SourcePage['turn'] => ((turn + 90) % 360) as SourcePage['turn'];

/**
 * Moves the chosen sheets together by one place, those that are at the end already stay. Where a file begins stays a place on the table, not a
 * property of the page that lay there.
 */
export function moved(sheets: readonly Sheet[], chosen: ReadonlySet<string>, by: -1 | 1): Sheet[] {
	const order = [...sheets];
	const from = by === 1 ? order.length - 1 : 0;
	for (let i = from - by; i >= 0 && i < order.length; i -= by) {
		const next = i + by;
		if (chosen.has(order[i].id) && !chosen.has(order[next].id)) [order[i], order[next]] = [order[next], order[i]];
	}
	return order.map((sheet, index) => ({ ...sheet, begins: sheets[index].begins }));
}

/** Difference from the colour of the paper, of 255, from which something is ink. */
const INK = 40;
/** Share of a page that may be ink, dust and the edge of the paper, on a blank one. */
const BLANK_SHARE = 0.0008;

/**
 * Whether nothing stands on a page.
 * @param rgba its pixels, four bytes each, as a canvas gives them
 */
export function looksBlank(rgba: Uint8ClampedArray, width: number, height: number): boolean {
	// the edge of a scan is dark where the paper ends
	const [left, top] = [Math.ceil(width * 0.04), Math.ceil(height * 0.04)];
	const counts = new Uint32Array(256);
	let seen = 0;
	for (let y = top; y < height - top; y++)
		for (let x = left; x < width - left; x++) {
			const at = (y * width + x) * 4;
			counts[Math.round(0.299 * rgba[at] + 0.587 * rgba[at + 1] + 0.114 * rgba[at + 2])]++;
			seen++;
		}
	if (seen === 0) return false;
	let [paper, below] = [0, 0];
	for (; paper < 255 && below + counts[paper] <= seen / 2; paper++) below += counts[paper];
	let ink = 0;
	for (const [level, count] of counts.entries()) if (Math.abs(level - paper) > INK) ink += count;
	return ink / seen < BLANK_SHARE;
}

const sourcePage = z.object({
	paperId: z.uuid(),
	page: z.int().min(1).max(100_000),
	turn: z.union([z.literal(0), z.literal(90), z.literal(180), z.literal(270)])
});
/** Files to make, as they are sent: no page stands in them twice. */
export const pagePlanSchema = z
	.array(
		z.object({
			name: z.string().trim().min(1, 'Write what each file is called.').max(160, 'Please keep each name to 160 characters.'),
			pages: z.array(sourcePage).min(1, 'A file needs at least one page.').max(PAGES_MOST)
		})
	)
	.min(1, 'Every page is left out. Keep at least one.')
	.max(FILES_MOST, `At most ${FILES_MOST} files are made at once.`)
	.superRefine((files, context) => {
		const pages = files.flatMap((file) => file.pages.map(({ paperId, page }) => `${paperId} ${page}`));
		if (pages.length > PAGES_MOST) context.addIssue({ code: 'custom', message: `At most ${PAGES_MOST} pages are put in order at once.` });
		if (new Set(pages).size < pages.length) context.addIssue({ code: 'custom', message: 'A page stands in these files twice. Reload this page.' });
	});
export type PagePlan = z.output<typeof pagePlanSchema>;
