import {
	concatTransformationMatrix,
	popGraphicsState,
	pushGraphicsState,
	rgb,
	type PDFDocument,
	type PDFFont,
	type PDFImage,
	type PDFPage
} from '@cantoo/pdf-lib';
import { seenSize, uprightMatrix } from '$lib/core/signing/page-space';
import type { Place } from '$lib/core/signing/places';
import { strokesAsPath, type Signature } from '$lib/core/signing/signature';
import { drawable, type FontName } from './fonts';
import { shapeOf } from './page-shape';

/** A signature as it is drawn: one that was made by hand stands on a page of its own, which the words name. */
export type DrawnMark = Signature | { method: 'paper'; name: string; words: string };

/** What is put into one place of the pages. */
export interface FilledPlace extends Pick<Place, 'page' | 'x' | 'y' | 'width' | 'height'> {
	is: { mark: DrawnMark } | { initials: string } | { text: string } | { ticked: true };
}

export const INK = rgb(0.113, 0.145, 0.188);

/** The pictures among some signatures, each once in the document, by their PNG. */
export async function embedPictures(document: PDFDocument, marks: readonly DrawnMark[]): Promise<ReadonlyMap<string, PDFImage>> {
	const embedded = new Map<string, PDFImage>();
	for (const mark of marks)
		if (mark.method === 'picture' && !embedded.has(mark.png)) embedded.set(mark.png, await document.embedPng(Buffer.from(mark.png, 'base64')));
	return embedded;
}

/** Draws a signature into a box whose lower left corner is given. */
export function drawMark(
	page: PDFPage,
	mark: DrawnMark,
	box: { x: number; y: number; width: number; height: number },
	font: (name: FontName) => PDFFont,
	pictures: ReadonlyMap<string, PDFImage>
): void {
	const picture = mark.method === 'picture' ? pictures.get(mark.png) : undefined;
	if (picture) {
		const { width, height } = picture.scaleToFit(box.width, box.height);
		page.drawImage(picture, { x: box.x, y: box.y, width, height });
		return;
	}
	if (mark.method === 'drawn') {
		const scale = Math.min(box.width / mark.width, box.height / mark.height);
		page.drawSvgPath(strokesAsPath(mark.strokes), { x: box.x, y: box.y + mark.height * scale, scale, borderColor: INK, borderWidth: 2 });
		return;
	}
	if (mark.method === 'paper') drawLine(page, mark.words, 'sans', 10.5, box, font);
	else drawLine(page, mark.name, 'serifItalic', 24, box, font);
}

/** Draws a line of text as large as it fits into a box, at most of a given size. */
function drawLine(
	page: PDFPage,
	words: string,
	name: FontName,
	most: number,
	box: { x: number; y: number; width: number; height: number },
	font: (name: FontName) => PDFFont
): void {
	const text = drawable(words, name);
	const size = Math.min(most, box.height * 0.72, (most * box.width) / Math.max(1, font(name).widthOfTextAtSize(text, most)));
	page.drawText(text, { x: box.x, y: box.y + Math.max(1, (box.height - size) / 2) + size * 0.14, size, font: font(name), color: INK });
}

/**
 * Puts what was filled in where it belongs: upright as the page is seen, however it is turned, cropped or measured. Such pages leave their
 * state as they found it, see `contentAsForm`.
 * @param name of the file, for what is wrong with it
 */
export function stampPlaces(
	document: PDFDocument,
	places: readonly FilledPlace[],
	name: string,
	font: (name: FontName) => PDFFont,
	pictures: ReadonlyMap<string, PDFImage>
): void {
	for (const number of new Set(places.map((place) => place.page))) {
		const page = document.getPage(number - 1);
		const shape = shapeOf(page, `Page ${number} of ${name}`);
		const { height } = seenSize(shape);
		page.pushOperators(pushGraphicsState(), concatTransformationMatrix(...uprightMatrix(shape)));
		for (const place of places) {
			if (place.page !== number) continue;
			const inset = Math.min(3, place.width / 8);
			const box = { x: place.x + inset, y: height - place.y - place.height, width: place.width - 2 * inset, height: place.height };
			if ('mark' in place.is) drawMark(page, place.is.mark, box, font, pictures);
			else if ('initials' in place.is) drawLine(page, place.is.initials, 'serifItalic', 18, box, font);
			else if ('text' in place.is) drawLine(page, place.is.text, 'sans', 10.5, box, font);
			else {
				const side = Math.min(place.width, place.height) * 0.7;
				const [left, foot] = [place.x + (place.width - side) / 2, box.y + (place.height - side) / 2];
				page.drawLine({ start: { x: left, y: foot + side * 0.5 }, end: { x: left + side * 0.4, y: foot }, thickness: 1.6, color: INK });
				page.drawLine({ start: { x: left + side * 0.4, y: foot }, end: { x: left + side, y: foot + side }, thickness: 1.6, color: INK });
			}
		}
		page.pushOperators(popGraphicsState());
	}
}
