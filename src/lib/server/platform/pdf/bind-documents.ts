import fontkit from '@cantoo/fontkit';
import { PDFDocument, rgb } from '@cantoo/pdf-lib';
import { DomainError } from '$lib/core/errors/domain-error';
import { seenSize } from '$lib/core/signing/page-space';
import { PAGE_MARGIN } from './compose-letter';
import { drawable, fontBytes } from './fonts';
import { shapesOf } from './page-shape';
import { contentAsForm, makeStill, openSignable, SIGNED_PAGES_MOST } from './signable';

export interface DocumentsToBind {
	title: string;
	sources: { name: string; bytes: Uint8Array }[];
	/** pages that have places on them: which of the documents, from 0, and its page, from 1 */
	placed: { document: number; page: number }[];
	/** words of the page for signatures that is added; null where the pages have places of their own */
	signaturePage: { heading: string; about: string } | null;
}
export interface BoundDocuments {
	pdf: Uint8Array;
	/** of all together */
	pages: number;
	/** how many pages each of them has */
	pagesOf: number[];
	/** on which page of the whole each of them begins, from 1 */
	firstPages: number[];
	signaturePage: number | null;
	signatureTop: number | null;
}

/**
 * Makes one PDF of the documents that are signed together, as everybody who signs is shown it: nothing in it does anything, its form is part
 * of its pages, and where they have no places a page for the signatures follows them.
 * @throws DomainError unreadable_file for what cannot be signed
 */
export async function bindDocuments({ title, sources, placed, signaturePage }: DocumentsToBind): Promise<BoundDocuments> {
	const opened: PDFDocument[] = [];
	for (const { name, bytes } of sources) {
		const document = await openSignable(name, bytes);
		makeStill(document, name);
		shapesOf(document, name);
		opened.push(document);
	}
	const pagesOf = opened.map((document) => document.getPageCount());
	const firstPages = pagesOf.map((_, at) => 1 + pagesOf.slice(0, at).reduce((sum, pages) => sum + pages, 0));
	if (pagesOf.reduce((sum, pages) => sum + pages, 0) > SIGNED_PAGES_MOST)
		throw new DomainError('unreadable_file', `Together they have more than ${SIGNED_PAGES_MOST} pages. Send some of them as a letter of their own.`);
	// pages copied into a new file leave behind whatever of the old one is no page
	const bound = await PDFDocument.create({ updateMetadata: false });
	for (const document of opened) for (const page of await bound.copyPages(document, document.getPageIndices())) bound.addPage(page);
	bound.setTitle(title);
	// now rather than when all have signed: what cannot be stamped is told to whoever sends it
	for (const [at, { name }] of sources.entries()) {
		for (const page of new Set(placed.filter(({ document }) => document === at).map((one) => one.page)))
			if (page <= pagesOf[at]) contentAsForm(bound, bound.getPage(firstPages[at] + page - 2), name);
	}
	let at: { signaturePage: number; signatureTop: number } | null = null;
	if (signaturePage) {
		bound.registerFontkit(fontkit);
		const shapes = shapesOf(bound, title);
		const last = seenSize(shapes[shapes.length - 1]);
		// A4 where the last page is no sheet that people sign on
		const size: [number, number] =
			last.width >= 400 && last.width <= 900 && last.height >= 500 && last.height <= 1300 ? [last.width, last.height] : [595.28, 841.89];
		const page = bound.addPage(size);
		const write = async (text: string, name: 'serifBold' | 'sans', fontSize: number, y: number) =>
			page.drawText(drawable(text, name), {
				x: PAGE_MARGIN,
				y,
				size: fontSize,
				font: await bound.embedFont(fontBytes(name), { subset: true }),
				color: rgb(0.113, 0.145, 0.188),
				maxWidth: size[0] - 2 * PAGE_MARGIN,
				lineHeight: fontSize * 1.4
			});
		await write(signaturePage.heading, 'serifBold', 16, size[1] - 84);
		await write(signaturePage.about, 'sans', 9.5, size[1] - 108);
		at = { signaturePage: bound.getPageCount(), signatureTop: 168 };
	}
	const pdf = await bound.save({ useObjectStreams: true, updateFieldAppearances: false });
	return { pdf, pages: bound.getPageCount(), pagesOf, firstPages, signaturePage: at?.signaturePage ?? null, signatureTop: at?.signatureTop ?? null };
}
