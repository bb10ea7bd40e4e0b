import { PDFName, PDFNumber, type PDFDocument, type PDFPage } from '@cantoo/pdf-lib';
import { DomainError } from '$lib/core/errors/domain-error';
import type { PageShape } from '$lib/core/signing/page-space';

/** What is shown of a page: its crop box inside its media box (ISO 32000-2, 14.11.2). @throws DomainError unreadable_file where nothing is */
export function shapeOf(page: PDFPage, where: string): PageShape {
	const [media, crop] = [page.getMediaBox(), page.getCropBox()];
	const x = Math.max(media.x, crop.x);
	const y = Math.max(media.y, crop.y);
	const width = Math.min(media.x + media.width, crop.x + crop.width) - x;
	const height = Math.min(media.y + media.height, crop.y + crop.height) - y;
	// a crop box beside the page is passed over, as readers do
	const shown = width > 0 && height > 0 ? { x, y, width, height } : media;
	if (!(shown.width >= 1 && shown.height >= 1))
		throw new DomainError('unreadable_file', `${where} has no size. Save it again from the program that made it.`);
	const unit = page.node.lookupMaybe(PDFName.of('UserUnit'), PDFNumber)?.asNumber() ?? 1;
	const rotate = ((((Math.round(page.getRotation().angle / 90) * 90) % 360) + 360) % 360) as PageShape['rotate'];
	return { ...shown, rotate, unit: unit > 0 ? unit : 1 };
}

/** The shapes of all pages. @param name of the file, for what is wrong with it */
export const shapesOf = (document: PDFDocument, name: string): PageShape[] =>
	document.getPages().map((page, at) => shapeOf(page, `Page ${at + 1} of ${name}`));
