import fontkit from '@cantoo/fontkit';
import { degrees, PDFDocument, PDFName, PDFNumber } from '@cantoo/pdf-lib';
import { fontBytes } from '../platform/pdf/fonts';

/** A page of a PDF for a test: its media box, what is cut off around it, how it is turned, and lines of text by their place in its own space. */
export interface TestPage {
	box?: [x: number, y: number, width: number, height: number];
	crop?: [x: number, y: number, width: number, height: number];
	turn?: number;
	unit?: number;
	lines?: readonly [text: string, x: number, y: number][];
}

/** A PDF with pages as they are asked for. @param more what else is done to it before it is saved */
export async function testPdf(pages: readonly TestPage[], more: (document: PDFDocument) => void | Promise<void> = () => {}): Promise<Buffer> {
	const document = await PDFDocument.create();
	document.registerFontkit(fontkit);
	const font = await document.embedFont(fontBytes('serif'), { subset: true });
	for (const { box = [0, 0, 612, 792], crop, turn = 0, unit, lines = [] } of pages) {
		const page = document.addPage([box[2], box[3]]);
		page.setMediaBox(box[0], box[1], box[2], box[3]);
		if (crop) page.setCropBox(crop[0], crop[1], crop[2], crop[3]);
		if (turn) page.setRotation(degrees(turn));
		if (unit) page.node.set(PDFName.of('UserUnit'), PDFNumber.of(unit));
		for (const [text, x, y] of lines) page.drawText(text, { x, y, size: 11, font });
	}
	await more(document);
	return Buffer.from(await document.save({ useObjectStreams: false, updateFieldAppearances: false }));
}
