import { inflateSync } from 'node:zlib';
import { decodePDFRawStream, PDFArray, PDFDict, PDFDocument, PDFName, PDFRawStream, PDFSignature, PDFStream, type PDFPage } from '@cantoo/pdf-lib';
import { DomainError } from '$lib/core/errors/domain-error';
import { quiet } from './arrange-pages';

/** Most pages of a letter. */
export const SIGNED_PAGES_MOST = 300;

const no = (message: string) => new DomainError('unreadable_file', message);

/**
 * Opens a PDF that others made (ISO 32000) to be signed as a part of ours.
 * @throws DomainError unreadable_file for what cannot be signed here without changing what it is, with what to do instead
 */
export async function openSignable(name: string, bytes: Uint8Array): Promise<PDFDocument> {
	let document: PDFDocument;
	try {
		// an empty password opens what is only protected against changes; a truncated file must not lose pages in silence
		document = await PDFDocument.load(bytes, { password: '', throwOnInvalidObject: true, updateMetadata: false });
		if (document.getPageCount() < 1) throw no(`${name} has no pages.`);
	} catch (error) {
		if (error instanceof DomainError) throw error;
		throw no(
			/encrypt|password/i.test(String(error))
				? `${name} is locked with a password. Ask for it without one, or take the password off.`
				: `${name} is damaged: not all of it can be read. Save it again from the program that made it.`
		);
	}
	const form = document.catalog.lookupMaybe(PDFName.of('AcroForm'), PDFDict);
	if (form?.has(PDFName.of('XFA')))
		throw no(`${name} is a form of a kind (XFA) that not every program shows alike. Print it to a PDF, and add that.`);
	if (document.catalog.has(PDFName.of('Collection'))) throw no(`${name} is a folder of files in the shape of a PDF. Add the files in it one by one.`);
	if (signaturesOf(document).length > 0)
		throw no(
			`${name} is signed already, and a place for another signature would break that. Put it beside the line to be read, and have a page of your own signed.`
		);
	if (document.getPageCount() > SIGNED_PAGES_MOST)
		throw no(`${name} has more than ${SIGNED_PAGES_MOST} pages. Have the page with the signatures signed, and put the rest beside it.`);
	return document;
}

/** Signatures that are there already. */
function signaturesOf(document: PDFDocument): PDFSignature[] {
	if (!document.catalog.has(PDFName.of('AcroForm'))) return [];
	return document
		.getForm()
		.getFields()
		.filter((field): field is PDFSignature => field instanceof PDFSignature && field.acroField.dict.has(PDFName.of('V')));
}

const DOING = ['OpenAction', 'AA', 'AF'].map((name) => PDFName.of(name));
const IN_NAMES = ['JavaScript', 'EmbeddedFiles'].map((name) => PDFName.of(name));

/** What a link may do when it is pressed. */
const HARMLESS = ['URI', 'GoTo'].map((name) => PDFName.of(name));
/** Notes on a page that carry a file, or play one. */
const CARRYING = ['FileAttachment', 'RichMedia', 'Screen', 'Movie', 'Sound', '3D'].map((name) => PDFName.of(name));

/** Notes on a page do nothing but lead to a page or an address. */
function stillNotes(page: PDFPage): void {
	const notes = page.node.Annots();
	for (let at = (notes?.size() ?? 0) - 1; notes && at >= 0; at--) {
		const note = notes.lookupMaybe(at, PDFDict);
		if (!note) continue;
		note.delete(PDFName.of('AA'));
		if (CARRYING.includes(note.lookupMaybe(PDFName.of('Subtype'), PDFName) as PDFName)) notes.remove(at);
		else if (
			note.has(PDFName.of('A')) &&
			!HARMLESS.includes(note.lookupMaybe(PDFName.of('A'), PDFDict)?.lookupMaybe(PDFName.of('S'), PDFName) as PDFName)
		)
			note.delete(PDFName.of('A'));
	}
}

/** Takes out what does something when the file is opened, and files inside it; what was filled in of its form is drawn on its pages. */
export function makeStill(document: PDFDocument, name: string): void {
	for (const doing of DOING) document.catalog.delete(doing);
	const names = document.catalog.lookupMaybe(PDFName.of('Names'), PDFDict);
	for (const inside of IN_NAMES) names?.delete(inside);
	for (const page of document.getPages()) {
		quiet(page);
		stillNotes(page);
	}
	if (!document.catalog.has(PDFName.of('AcroForm'))) return;
	try {
		document.getForm().flatten({ updateFieldAppearances: false });
		document.catalog.delete(PDFName.of('AcroForm'));
	} catch {
		throw no(`The form in ${name} cannot be made part of its pages. Print it to a PDF, and add that.`);
	}
}

/** What a page draws, taken out of its compression, may be as large as this; a small file can hide much more. */
const DRAWN_MOST_BYTES = 32_000_000;

function contentOf(stream: PDFRawStream): Uint8Array {
	const filter = stream.dict.lookup(PDFName.of('Filter'));
	if (filter === PDFName.of('FlateDecode') && !stream.dict.has(PDFName.of('DecodeParms')))
		return inflateSync(stream.getContents(), { maxOutputLength: DRAWN_MOST_BYTES });
	return decodePDFRawStream(stream).decode();
}

/**
 * Puts what a page draws into a form of its own (ISO 32000-2, 8.10): whatever state it leaves behind, what is drawn afterwards stands
 * where it should.
 * @throws DomainError unreadable_file where its content cannot be read
 */
export function contentAsForm(document: PDFDocument, page: PDFPage, name: string): void {
	const { context } = document;
	const contents = page.node.Contents();
	const streams = contents instanceof PDFArray ? contents.asArray().map((ref) => context.lookup(ref)) : contents ? [contents] : [];
	const parts: Uint8Array[] = [];
	let bytes = 0;
	try {
		for (const stream of streams) {
			if (stream instanceof PDFRawStream) parts.push(contentOf(stream));
			else if (stream instanceof PDFStream) parts.push(stream.getContents());
			parts.push(new Uint8Array([10]));
			bytes += parts.at(-2)?.length ?? 0;
			if (bytes > DRAWN_MOST_BYTES) throw new Error('a page draws too much');
		}
	} catch {
		throw no(`A page of ${name} cannot be read. Save it again from the program that made it.`);
	}
	const media = page.getMediaBox();
	const drawn = context.flateStream(Buffer.concat(parts), {
		Type: 'XObject',
		Subtype: 'Form',
		BBox: [media.x, media.y, media.x + media.width, media.y + media.height],
		Resources: page.node.Resources() ?? {}
	});
	const key = PDFName.of('Page');
	page.node.set(PDFName.of('Resources'), context.obj({ XObject: { Page: context.register(drawn) } }));
	page.node.set(PDFName.of('Contents'), context.register(context.stream(`q ${key.toString()} Do Q\n`)));
}
