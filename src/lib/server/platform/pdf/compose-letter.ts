import { createRequire } from 'node:module';
import type { Content, ContentText, TableCell, TDocumentDefinitions } from 'pdfmake/interfaces';
import {
	blockText,
	plainText,
	type LetterBlock,
	type LetterDocument,
	type LetterInline,
	type LetterParagraph,
	type LetterTable
} from '$lib/core/letters/letter-document';
import type { Place, PlaceKind } from '$lib/core/signing/places';
import { FONT_FILES, requireGlyphs } from './fonts';

const require = createRequire(import.meta.url);

/** The paper that printers of a country hold. */
export const paperOf = (country: string): 'A4' | 'LETTER' => (['CA', 'US', 'MX'].includes(country) ? 'LETTER' : 'A4');

export interface LetterToCompose {
	title: string;
	/** with every merge field filled */
	document: LetterDocument;
	/** the logo as a data address of a PNG */
	firm: { name: string; address: string; color: string; logo: string | null };
	dateLine: string;
	recipient: string[];
	paper: 'A4' | 'LETTER';
	/** the title of the box in which an account is named, and the fields in it */
	payment: { title: string; fields: readonly { kind: PlaceKind; label: string }[] } | null;
	/** words under the places for signatures, two in a row: client first, then firm */
	signers: { name: string; of: string }[];
	pageWords: string;
	locale: string;
}

export interface ComposedLetter {
	pdf: Uint8Array;
	pages: number;
	/** 1-based page that holds the places for signatures */
	signaturePage: number;
	/** distance in points from the page's upper edge to the upper edge of the places */
	signatureTop: number;
	/** where the account is written, if it is asked for */
	payment: Pick<Place, 'page' | 'x' | 'y' | 'width' | 'height' | 'kind' | 'label'>[];
}

/** Height kept free for each row of two signatures, in points. */
export const SIGNATURE_HEIGHT = 128;
export const PAGE_MARGIN = 64;
const TABLE_LINE = '#b9b29f';
/** Height of a field of the account, its label above the line, in points. */
const PAYMENT_FIELD = 40;
const PAYMENT_WIDTH = 260;

interface PdfMake {
	addFonts(fonts: object): void;
	setLocalAccessPolicy?(policy: (path: string) => boolean): void;
	setUrlAccessPolicy?(policy: (url: string) => boolean): void;
	createPdf(definition: TDocumentDefinitions): { getBuffer(): Promise<Buffer> };
}
let maker: PdfMake | undefined;
/** The library with the shipped fonts; it reads nothing else, from nowhere. */
export function pdfMake(): PdfMake {
	if (!maker) {
		maker = require('pdfmake') as PdfMake;
		maker.addFonts({
			Serif: { normal: FONT_FILES.serif, bold: FONT_FILES.serifBold, italics: FONT_FILES.serifItalic, bolditalics: FONT_FILES.serifBoldItalic },
			Sans: { normal: FONT_FILES.sans, bold: FONT_FILES.sansBold, italics: FONT_FILES.sansItalic, bolditalics: FONT_FILES.sansBoldItalic }
		});
		const fontPaths = new Set<string>(Object.values(FONT_FILES));
		maker.setUrlAccessPolicy?.(() => false);
		maker.setLocalAccessPolicy?.((path) => fontPaths.has(path));
	}
	return maker;
}

/**
 * The number of each page, at its foot.
 * @param pageWords with {page} and {count}
 * @param down points from the upper edge of the margin
 */
export const pageFooter =
	(pageWords: string, down: number) =>
	(page: number, count: number): Content => ({
		text: pageWords.replace('{page}', String(page)).replace('{count}', String(count)),
		font: 'Sans',
		fontSize: 8,
		color: '#4d5866',
		alignment: 'center',
		margin: [0, down, 0, 0]
	});

/**
 * Renders a letter to PDF with the shipped fonts, leaving places for the signatures at its end.
 * @throws DomainError invalid if a character has no glyph in the fonts
 */
export async function composeLetter(letter: LetterToCompose): Promise<ComposedLetter> {
	for (const block of letter.document.content) requireGlyphs(blockText(block), 'serif', 'The letter');
	requireGlyphs(letter.recipient.join('') + letter.signers.map((s) => s.name + s.of).join(''), 'sans', 'A name in the letter');

	let pages = 1;
	const { payment } = letter;
	const fields = (payment?.fields ?? []).map(({ label }): Placed => ({
		text: label,
		font: 'Sans',
		fontSize: 8.5,
		color: '#4d5866',
		margin: [0, 0, 0, 18]
	}));
	const block = blockContent(payment && paymentContent(payment.title, fields));
	const signatures: Placed = { text: ' ', id: 'signatures', fontSize: 4, margin: [0, 10, 0, 0] };
	const room = SIGNATURE_HEIGHT * Math.ceil(letter.signers.length / 2);
	const height = letter.paper === 'A4' ? 841.89 : 792;

	const footer = pageFooter(letter.pageWords, 24);
	const definition: TDocumentDefinitions = {
		pageSize: letter.paper,
		pageMargins: [PAGE_MARGIN, 60, PAGE_MARGIN, 64],
		info: { title: letter.title, author: letter.firm.name },
		defaultStyle: { font: 'Serif', fontSize: 10.5, lineHeight: 1.32, color: '#1d2530' },
		content: [
			...(letter.firm.logo
				? [{ image: letter.firm.logo, fit: [150, 44] as [number, number], margin: [0, 0, 0, 6] as [number, number, number, number] }]
				: []),
			{ text: letter.firm.name, fontSize: 17, bold: true, color: letter.firm.color, lineHeight: 1.1 },
			{ text: letter.firm.address, font: 'Sans', fontSize: 8.5, color: '#4d5866', margin: [0, 2, 0, 6] },
			{ canvas: [{ type: 'line', x1: 0, y1: 0, x2: 484, y2: 0, lineWidth: 1.2, lineColor: letter.firm.color }], margin: [0, 0, 0, 20] },
			{ text: letter.recipient.join('\n'), font: 'Sans', fontSize: 10, margin: [0, 0, 0, 12] },
			{ text: letter.dateLine, font: 'Sans', fontSize: 10, color: '#4d5866', margin: [0, 0, 0, 18] },
			...letter.document.content.map(block),
			signatures,
			{ canvas: [{ type: 'line', x1: 0, y1: room, x2: 0.1, y2: room, lineWidth: 0.1, lineColor: '#ffffff' }] }
		],
		footer: (page, count) => {
			pages = count;
			return footer(page, count);
		},
		// the places stay together, and an account with what it is for
		pageBreakBefore: (node) =>
			(node.id === 'signatures' && node.startPosition.top + room + 20 > height - 64) ||
			(node.id === 'payment' && node.startPosition.top + 20 + PAYMENT_FIELD * fields.length > height - 64)
	};
	const buffer = await pdfMake().createPdf(definition).getBuffer();
	const at = placeOf(signatures);
	if (!at) throw new Error('the place for the signatures was not found');
	return {
		pdf: new Uint8Array(buffer),
		pages,
		signaturePage: at.pageNumber,
		signatureTop: at.top,
		payment: (payment?.fields ?? []).map(({ kind, label }, n) => {
			const place = placeOf(fields[n]);
			if (!place) throw new Error('the place for an account was not found');
			return { page: place.pageNumber, x: place.left, y: place.top + 13, width: PAYMENT_WIDTH, height: 20, kind, label };
		})
	};
}

/** What the library notes on a piece of content: where it stands, in points from the upper left corner of its page. */
type Placed = ContentText & { id?: string; positions?: { pageNumber: number; left: number; top: number }[] };
/** Where it came to stand in the end. Asked while pages are broken, it may still move: it is asked when all is drawn. */
const placeOf = (content: Placed) => content.positions?.[0];

function runs(content: readonly LetterInline[] = []): ContentText[] {
	return content.map((node): ContentText => {
		if (node.type === 'hardBreak') return { text: '\n' };
		const marks = new Set(node.marks?.map((m) => m.type));
		return {
			text: plainText([node]),
			...(marks.has('bold') ? { bold: true } : {}),
			...(marks.has('italic') ? { italics: true } : {}),
			...(marks.has('underline') ? { decoration: 'underline' as const } : {})
		};
	});
}

/** Where an account is named: each number on a line of its own, on which it is put once it is given. */
function paymentContent(title: string, fields: readonly Placed[]): Content {
	return {
		stack: [
			{ text: title, id: 'payment', font: 'Sans', bold: true, fontSize: 9, margin: [0, 4, 0, 4] },
			...fields.flatMap((field): Content[] => [
				field,
				{ canvas: [{ type: 'line', x1: 0, y1: 0, x2: PAYMENT_WIDTH, y2: 0, lineWidth: 0.8, lineColor: '#4d5866' }], margin: [0, 0, 0, 6] }
			])
		],
		margin: [0, 0, 0, 8]
	};
}

const blockContent =
	(payment: Content | null) =>
	(block: LetterBlock): Content => {
		const paragraph = (p: LetterParagraph): Content => ({ text: p.content?.length ? runs(p.content) : ' ', margin: [0, 0, 0, 8] });
		switch (block.type) {
			case 'paragraph':
				return paragraph(block);
			case 'heading':
				return {
					text: runs(block.content),
					bold: true,
					fontSize: [16, 13, 11.5][block.attrs.level - 1],
					margin: [0, 8, 0, 5],
					headlineLevel: block.attrs.level
				};
			case 'pageBreak':
				return { text: '', pageBreak: 'after' };
			case 'payment':
				if (!payment) throw new Error('a letter that asks for an account says what of it');
				return payment;
			case 'fees':
				throw new Error('a letter is composed with its fees as a table');
			case 'part':
				return { stack: block.content.map(blockContent(payment)) };
			case 'table': {
				const columns = Math.max(...block.content.map(({ content }) => content.length));
				const cell = (one: LetterTable['content'][number]['content'][number]): TableCell => ({
					stack: one.content.map((p) => ({ text: p.content?.length ? runs(p.content) : ' ' })),
					...(one.type === 'tableHeader' ? { bold: true } : {})
				});
				return {
					margin: [0, 2, 0, 10],
					layout: {
						hLineColor: () => TABLE_LINE,
						vLineColor: () => TABLE_LINE,
						hLineWidth: () => 0.6,
						vLineWidth: () => 0.6,
						paddingTop: () => 3,
						paddingBottom: () => 2
					},
					table: {
						widths: Array.from({ length: columns }, () => '*'),
						headerRows: block.content[0].content.every(({ type }) => type === 'tableHeader') && block.content.length > 1 ? 1 : 0,
						dontBreakRows: true,
						body: block.content.map(({ content }) => Array.from({ length: columns }, (_, at) => (content[at] ? cell(content[at]) : '')))
					}
				};
			}
			case 'bulletList':
				return { ul: block.content.map((item): Content => ({ stack: item.content.map(paragraph) })), margin: [0, 0, 0, 4] };
			case 'orderedList':
				return {
					ol: block.content.map((item): Content => ({ stack: item.content.map(paragraph) })),
					start: block.attrs?.start ?? 1,
					margin: [0, 0, 0, 4]
				};
		}
	};
