import { createCanvas, loadImage } from '@napi-rs/canvas';
import { degrees, PDFDocument, PDFName, type PDFPage } from '@cantoo/pdf-lib';
import { DomainError } from '$lib/core/errors/domain-error';

/** A file of which pages are taken: a PDF, or a picture, which is one page. */
export interface PageSource {
	name: string;
	contentType: string;
	bytes: Uint8Array;
}
/** A file to make: its pages by the place of their source, the page in it from 1, and a turn to the right in degrees. */
export interface FileToArrange {
	title: string;
	pages: { source: number; page: number; turn: number }[];
}

/** Longer side of a picture on a page in pixels, about 250 dots an inch. */
const PICTURE_MOST = 2900;
/** A picture of more pixels is not taken apart into memory. */
const PIXELS_MOST = 120_000_000;
/** Longer side of the page for a picture in points: A4. */
const PAGE_LENGTH = 842;
/** What a page may hold that does something when it is opened. */
const DOING = ['AA', 'A'].map((name) => PDFName.of(name));

/** A file whose pages can be taken. */
type Opened = { document: PDFDocument; count: number };

/** @throws DomainError unreadable_file for what is locked or damaged */
export async function openSource({ name, contentType, bytes }: PageSource): Promise<Opened> {
	if (contentType.startsWith('image/')) return { document: await pageOfPicture(name, bytes), count: 1 };
	try {
		// an empty password opens what is only protected against changes
		const document = await PDFDocument.load(bytes, { password: '', updateMetadata: false });
		return { document, count: document.getPageCount() };
	} catch (error) {
		const locked = /encrypt|password/i.test(String(error));
		throw new DomainError(
			'unreadable_file',
			locked
				? `${name} is locked with a password. Its pages cannot be taken; ask for it without one.`
				: `${name} is damaged. Its pages cannot be taken.`
		);
	}
}

/** A picture as a page of its shape, upright as its camera says (EXIF). */
async function pageOfPicture(name: string, bytes: Uint8Array): Promise<PDFDocument> {
	const picture = await loadImage(bytes).catch(() => {
		throw new DomainError('unreadable_file', `${name} cannot be read as a picture.`);
	});
	if (picture.width * picture.height > PIXELS_MOST || picture.width === 0 || picture.height === 0)
		throw new DomainError('unreadable_file', `${name} has too many pixels to be put on a page.`);
	const smaller = Math.min(1, PICTURE_MOST / Math.max(picture.width, picture.height));
	const [width, height] = [Math.max(1, Math.round(picture.width * smaller)), Math.max(1, Math.round(picture.height * smaller))];
	const canvas = createCanvas(width, height);
	const drawing = canvas.getContext('2d');
	drawing.fillStyle = '#fff';
	drawing.fillRect(0, 0, width, height);
	drawing.drawImage(picture, 0, 0, width, height);
	const document = await PDFDocument.create({ updateMetadata: false });
	const drawn = await document.embedJpg(await canvas.encode('jpeg', 86));
	const points = PAGE_LENGTH / Math.max(width, height);
	const page = document.addPage([width * points, height * points]);
	page.drawImage(drawn, { x: 0, y: 0, width: page.getWidth(), height: page.getHeight() });
	return document;
}

/** A page looks and reads as before, and does nothing. */
export function quiet(page: PDFPage): void {
	for (const name of DOING) page.node.delete(name);
}

/**
 * Makes files of the pages of others (ISO 32000). What is drawn and written on a page comes along as it is, scripts do not.
 * @throws DomainError unreadable_file for what is locked or damaged, changed_meanwhile for a page that a file does not have
 */
export async function arrangePages(sources: readonly PageSource[], files: readonly FileToArrange[]): Promise<Uint8Array[]> {
	const opened: Opened[] = [];
	for (const source of sources) opened.push(await openSource(source));
	const made: Uint8Array[] = [];
	for (const file of files) {
		const document = await PDFDocument.create({ updateMetadata: false });
		document.setTitle(file.title);
		// pages of one source that are copied together share what they have in common
		const copies = new Map<string, PDFPage>();
		for (const [index, { document: from, count }] of opened.entries()) {
			const wanted = file.pages.filter(({ source }) => source === index).map(({ page }) => page);
			if (wanted.some((page) => page > count)) throw new DomainError('changed_meanwhile', `${sources[index].name} has only ${count} pages.`);
			try {
				for (const [n, copy] of (
					await document.copyPages(
						from,
						wanted.map((page) => page - 1)
					)
				).entries())
					copies.set(`${index} ${wanted[n]}`, copy);
			} catch {
				throw new DomainError('unreadable_file', `${sources[index].name} is damaged. Its pages cannot be taken.`);
			}
		}
		for (const { source, page, turn } of file.pages) {
			const copy = copies.get(`${source} ${page}`)!;
			copy.setRotation(degrees((((copy.getRotation().angle + turn) % 360) + 360) % 360));
			quiet(copy);
			document.addPage(copy);
		}
		made.push(await document.save());
	}
	return made;
}
