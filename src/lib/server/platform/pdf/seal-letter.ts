import { createHash } from 'node:crypto';
import fontkit from '@cantoo/fontkit';
import { PDFDict, PDFDocument, PDFName, PDFString, rgb, type PDFFont, type PDFImage, type PDFPage } from '@cantoo/pdf-lib';
import { openSource } from './arrange-pages';
import { PAGE_MARGIN, SIGNATURE_HEIGHT } from './compose-letter';
import { drawable, fontBytes, type FontName } from './fonts';
import { fetchTimeStamp } from '../time-stamps/time-stamp';
import { checkSeal, sealDocument } from './seal';
import { drawMark, embedPictures, INK, stampPlaces, type DrawnMark, type FilledPlace } from './stamp-places';

export interface LetterToSeal {
	/** the letter as it was shown to the signers */
	pdf: Uint8Array;
	title: string;
	/** where the places for all signatures are; null where the pages have places of their own */
	signaturePage: number | null;
	signatureTop: number | null;
	/** what is filled in on its pages */
	places?: FilledPlace[];
	/** the files that it was made of */
	documents?: { name: string; sha256: string }[];
	/** in the order in which they were asked: client first, then firm */
	signatures: {
		mark: DrawnMark;
		of: string;
		when: string;
		email: string;
		/** null for who signed by hand */ ip: string | null;
		/** how they came to it, where that was not by signing in */ by?: string;
		consent: string;
	}[];
	/** pages that were signed by hand, which follow those of the letter */
	scans?: { name: string; bytes: Uint8Array }[];
	/** everything that happened to the letter, oldest first, in words */
	events: { when: string; what: string }[];
	/** SHA-256 of `pdf`, hexadecimal */
	sha256: string;
	words: {
		certificate: string;
		about: string;
		document: string;
		digest: string;
		signers: string;
		events: string;
		reason: string;
		/** where anybody can check the file */ check?: string;
		/** how many entries its trail has, before the hash of the last */ trail?: string;
	};
	/** the hash of the last entry of its trail */
	trailEnd?: string;
	key: { leafPem: string; leafKey: Uint8Array };
	sealedAt: string;
	/** whether it is not sealed at all while the service for time stamps does not answer */
	stampNeeded: boolean;
}

export interface SealedPdf {
	pdf: Uint8Array;
	sha256: Uint8Array;
	/** the instant of the time stamp in it; null where none is asked for, or none was to be had */
	stampedAt: string | null;
}

/** Name in the document information under which the last hash of the trail stands. */
const TRAIL_END = PDFName.of('LetterTrailEnd');

const HALF = rgb(0.3, 0.345, 0.4);
const RULE = rgb(0.847, 0.804, 0.71);

/**
 * Stamps the signatures into a letter, adds the certificate page and seals the whole.
 * @param timeStamps the address of a service for time stamps (RFC 3161); null for none
 * @throws Error if the seal needs a time stamp and the service gives none
 */
export async function sealLetter(letter: LetterToSeal, timeStamps: string | null): Promise<SealedPdf> {
	const document = await PDFDocument.load(letter.pdf, { throwOnInvalidObject: true, updateMetadata: false });
	document.registerFontkit(fontkit);
	const embedded = new Map<FontName, PDFFont>();
	for (const name of ['serif', 'serifItalic', 'sans', 'sansBold', 'serifBold'] as const)
		embedded.set(name, await document.embedFont(fontBytes(name), { subset: true }));
	const font = (name: FontName) => embedded.get(name)!;

	const pictures = await embedPictures(
		document,
		letter.signatures.map(({ mark }) => mark)
	);
	if (letter.places?.length) stampPlaces(document, letter.places, letter.title, font, pictures);
	if (letter.signaturePage !== null) stampSignatures(document.getPage(letter.signaturePage - 1), letter, font, pictures);
	for (const { name, bytes } of letter.scans ?? []) {
		const { document: pages } = await openSource({ name, contentType: 'application/pdf', bytes });
		for (const page of await document.copyPages(pages, pages.getPageIndices())) document.addPage(page);
	}
	writeCertificate(document, letter, font);
	document.setTitle(letter.title);
	if (letter.trailEnd) informationOf(document).set(TRAIL_END, PDFString.of(letter.trailEnd));
	let stampedAt: string | null = null;
	const stamp = async (signature: Uint8Array) => {
		try {
			const { token, at } = await fetchTimeStamp(timeStamps!, signature);
			stampedAt = at;
			return token;
		} catch (error) {
			if (letter.stampNeeded) throw error;
			return null;
		}
	};
	const pdf = await sealDocument(document, letter.key, new Date(letter.sealedAt), letter.words.reason, timeStamps ? stamp : null);
	// what the service made stands in the file: we look at the whole as anybody will
	const finding = stampedAt ? await checkSeal(pdf, [letter.key.leafPem]) : null;
	if (finding && !finding.ok) throw new Error(`a seal with a time stamp does not hold: ${finding.why}`);
	return { pdf, sha256: createHash('sha256').update(pdf).digest(), stampedAt };
}

function informationOf(document: PDFDocument): PDFDict {
	const { context } = document;
	const known = context.lookup(context.trailerInfo.Info);
	if (known instanceof PDFDict) return known;
	const made = context.obj({}) as PDFDict;
	context.trailerInfo.Info = context.register(made);
	return made;
}

/** The last hash of its trail that stands in a sealed letter; null if none does. */
export async function trailEndOf(pdf: Uint8Array): Promise<string | null> {
	const { context } = await PDFDocument.load(pdf, { updateMetadata: false });
	const information = context.lookup(context.trailerInfo.Info);
	const end = information instanceof PDFDict ? information.lookup(TRAIL_END) : undefined;
	return end instanceof PDFString ? end.asString() : null;
}

function stampSignatures(page: PDFPage, letter: LetterToSeal, font: (name: FontName) => PDFFont, pictures: ReadonlyMap<string, PDFImage>): void {
	const { width, height } = page.getSize();
	const gap = 28;
	const place = (width - 2 * PAGE_MARGIN - gap) / 2;
	letter.signatures.forEach((signature, i) => {
		const x = PAGE_MARGIN + (i % 2) * (place + gap);
		const top = height - letter.signatureTop! - Math.floor(i / 2) * SIGNATURE_HEIGHT;
		const line = top - 70;
		const { mark } = signature;
		drawMark(
			page,
			mark,
			{ x: x + 5, y: line + 4, width: place - 10, height: mark.method === 'typed' || mark.method === 'paper' ? 34 : 58 },
			font,
			pictures
		);
		page.drawLine({ start: { x, y: line }, end: { x: x + place, y: line }, thickness: 0.8, color: HALF });
		const small = (text: string, down: number, name: FontName = 'sans') =>
			page.drawText(shorten(drawable(text, name), font(name), 8.5, place), {
				x,
				y: line - down,
				size: 8.5,
				font: font(name),
				color: name === 'sansBold' ? INK : HALF
			});
		small(mark.name, 12, 'sansBold');
		small(signature.of, 24);
		small(signature.when, 36);
	});
}

function writeCertificate(document: PDFDocument, letter: LetterToSeal, font: (name: FontName) => PDFFont): void {
	const { width, height } = document.getPage(0).getSize();
	let page = document.addPage([width, height]);
	let y = height - 76;
	const inner = width - 2 * PAGE_MARGIN;
	const need = (room: number) => {
		if (y - room > 60) return;
		page = document.addPage([width, height]);
		y = height - 76;
	};
	const write = (text: string, size: number, name: FontName, color = INK, indent = 0) => {
		for (const line of wrap(drawable(text, name), font(name), size, inner - indent)) {
			need(size * 1.4);
			page.drawText(line, { x: PAGE_MARGIN + indent, y, size, font: font(name), color });
			y -= size * 1.4;
		}
	};
	const heading = (text: string) => {
		need(60);
		y -= 14;
		write(text, 11, 'serifBold');
		page.drawLine({ start: { x: PAGE_MARGIN, y: y + 8 }, end: { x: width - PAGE_MARGIN, y: y + 8 }, thickness: 0.8, color: RULE });
		y -= 6;
	};

	write(letter.words.certificate, 18, 'serifBold');
	y -= 4;
	write([letter.words.about, letter.words.check].filter(Boolean).join(' '), 9.5, 'sans', HALF);
	heading(letter.words.document);
	write(letter.title, 9.5, 'sansBold');
	write(`${letter.words.digest} ${letter.sha256}`, 8.5, 'sans', HALF);
	for (const { name, sha256 } of letter.documents ?? []) write(`${name}: ${sha256}`, 8.5, 'sans', HALF);
	heading(letter.words.signers);
	for (const s of letter.signatures) {
		write(`${s.mark.name}, ${s.of}`, 9.5, 'sansBold');
		write([s.email, s.when, s.ip].filter(Boolean).join(' · '), 8.5, 'sans', HALF);
		if (s.by) write(s.by, 8.5, 'sans', HALF);
		if (s.consent) write(s.consent, 8.5, 'sans', HALF);
		y -= 5;
	}
	heading(letter.words.events);
	for (const e of letter.events) {
		need(14);
		const at = y;
		page.drawText(drawable(e.when, 'sans'), { x: PAGE_MARGIN, y: at, size: 8.5, font: font('sans'), color: HALF });
		write(e.what, 8.5, 'sans', INK, 150);
		y -= 2;
	}
	if (letter.words.trail && letter.trailEnd) {
		y -= 6;
		write(letter.words.trail, 8.5, 'sans', HALF);
		write(letter.trailEnd, 8.5, 'sans', HALF);
	}
}

function wrap(text: string, font: PDFFont, size: number, width: number): string[] {
	const lines: string[] = [];
	let line = '';
	const fits = (t: string) => font.widthOfTextAtSize(t, size) <= width;
	for (const word of text.split(' ')) {
		let rest = word;
		if (line && fits(`${line} ${rest}`)) {
			line += ` ${rest}`;
			continue;
		}
		if (line) lines.push(line);
		while (!fits(rest)) {
			let cut = rest.length - 1;
			while (cut > 1 && !fits(rest.slice(0, cut))) cut--;
			lines.push(rest.slice(0, cut));
			rest = rest.slice(cut);
		}
		line = rest;
	}
	if (line) lines.push(line);
	return lines;
}

function shorten(text: string, font: PDFFont, size: number, width: number): string {
	let short = text;
	while (short.length > 1 && font.widthOfTextAtSize(short, size) > width) short = `${short.slice(0, -2)}…`;
	return short;
}
