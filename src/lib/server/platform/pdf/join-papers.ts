import fontkit from '@cantoo/fontkit';
import { PDFArray, PDFDocument, PDFName, rgb, type PDFFont, type PDFPage } from '@cantoo/pdf-lib';
import { DomainError } from '$lib/core/errors/domain-error';
import { openSource, quiet, type PageSource } from './arrange-pages';
import { fontBytes } from './fonts';

/** Papers that become one, and what its first page says. */
export interface PapersToJoin {
	title: string;
	/** under the title, as whose papers these are and when they were joined */
	under: string;
	/** pages of all of them, at most */
	pagesMost: number;
}

const A4: [number, number] = [595, 842];
const MARGIN = 62;
const LINE = 21;
const [FIRST_LINE, NEXT_LINE] = [A4[1] - 150, A4[1] - 80];
const INK = rgb(0.1, 0.13, 0.19);

/** Lines that a page of the contents holds. */
const linesOn = (contents: number) => Math.floor(((contents === 0 ? FIRST_LINE : NEXT_LINE) - MARGIN) / LINE);
function contentsPages(entries: number): number {
	let [pages, room] = [0, 0];
	while (room < entries || pages === 0) room += linesOn(pages++);
	return pages;
}

/** As much of a text as fits, with a sign that there was more. */
function cutTo(text: string, width: number, size: number, font: PDFFont): string {
	if (font.widthOfTextAtSize(text, size) <= width) return text;
	const letters = [...text];
	while (letters.length > 0 && font.widthOfTextAtSize(`${letters.join('')}…`, size) > width) letters.pop();
	return `${letters.join('')}…`;
}

/** Makes a place on a page lead to another page (ISO 32000-1, 12.5.6.5). */
function link(document: PDFDocument, from: PDFPage, [x, y, width, height]: readonly number[], to: PDFPage): void {
	const annotation = document.context.register(
		document.context.obj({
			Type: 'Annot',
			Subtype: 'Link',
			Rect: [x, y, x + width, y + height],
			Border: [0, 0, 0],
			Dest: [to.ref, 'XYZ', null, null, null]
		})
	);
	const there = from.node.lookupMaybe(PDFName.of('Annots'), PDFArray);
	if (there) there.push(annotation);
	else from.node.set(PDFName.of('Annots'), document.context.obj([annotation]));
}

/**
 * Joins papers to one PDF (ISO 32000) with a table of contents whose lines lead to each paper.
 * @returns the file and how many pages it has, with those of the contents
 * @throws DomainError unreadable_file for what is locked or damaged, too_many
 */
export async function joinPapers(
	sources: readonly PageSource[],
	{ title, under, pagesMost }: PapersToJoin
): Promise<{ pdf: Uint8Array; pages: number }> {
	const document = await PDFDocument.create({ updateMetadata: false });
	document.setTitle(title);
	document.registerFontkit(fontkit);
	const [regular, bold] = [
		await document.embedFont(fontBytes('serif'), { subset: true }),
		await document.embedFont(fontBytes('serifBold'), { subset: true })
	];
	const contents = Array.from({ length: contentsPages(sources.length) }, () => document.addPage(A4));
	const entries: { name: string; first: PDFPage; number: number }[] = [];
	for (const source of sources) {
		const { document: from, count } = await openSource(source);
		if (document.getPageCount() + count > pagesMost)
			throw new DomainError('too_many', `These papers have more than ${pagesMost} pages together. Join fewer at once.`);
		let pages: PDFPage[];
		try {
			pages = await document.copyPages(from, from.getPageIndices());
		} catch {
			throw new DomainError('unreadable_file', `${source.name} is damaged. Its pages cannot be taken.`);
		}
		if (pages.length === 0) throw new DomainError('unreadable_file', `${source.name} has no pages.`);
		entries.push({ name: source.name, first: pages[0], number: document.getPageCount() + 1 });
		for (const page of pages) {
			quiet(page);
			document.addPage(page);
		}
	}
	contents[0].drawText(cutTo(title, A4[0] - 2 * MARGIN, 22, bold), { x: MARGIN, y: A4[1] - 92, size: 22, font: bold, color: INK });
	contents[0].drawText(cutTo(under, A4[0] - 2 * MARGIN, 11, regular), { x: MARGIN, y: A4[1] - 112, size: 11, font: regular, color: INK });
	let [sheet, y] = [0, FIRST_LINE];
	for (const { name, first, number } of entries) {
		if (y < MARGIN) [sheet, y] = [sheet + 1, NEXT_LINE];
		const words = String(number);
		const right = A4[0] - MARGIN - regular.widthOfTextAtSize(words, 11);
		contents[sheet].drawText(cutTo(name, right - MARGIN - 20, 11, regular), { x: MARGIN, y, size: 11, font: regular, color: INK });
		contents[sheet].drawText(words, { x: right, y, size: 11, font: regular, color: INK });
		contents[sheet].drawLine({
			start: { x: MARGIN, y: y - 6 },
			end: { x: A4[0] - MARGIN, y: y - 6 },
			thickness: 0.4,
			color: rgb(0.82, 0.78, 0.7)
		});
		link(document, contents[sheet], [MARGIN, y - 5, A4[0] - 2 * MARGIN, LINE - 3], first);
		y -= LINE;
	}
	return { pdf: await document.save(), pages: document.getPageCount() };
}
