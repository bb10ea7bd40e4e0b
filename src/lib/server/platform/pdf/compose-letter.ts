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
}

/** Height kept free for each row of two signatures, in points. */
export const SIGNATURE_HEIGHT = 128;
export const PAGE_MARGIN = 64;
const TABLE_LINE = '#b9b29f';

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

	let signaturePage = 1;
	let signatureTop = 0;
	let pages = 1;
	const room = SIGNATURE_HEIGHT * Math.ceil(letter.signers.length / 2);
	const height = letter.paper === 'A4' ? 841.89 : 792;

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
			...letter.document.content.map(blockContent),
			{ text: ' ', id: 'signatures', fontSize: 4, margin: [0, 10, 0, 0] },
			{ canvas: [{ type: 'line', x1: 0, y1: room, x2: 0.1, y2: room, lineWidth: 0.1, lineColor: '#ffffff' }] }
		],
		footer: pageFooter(letter.pageWords, 24),
		pageBreakBefore: (node) => {
			pages = node.pages;
			if (node.id !== 'signatures') return false;
			signaturePage = node.startPosition.pageNumber;
			signatureTop = node.startPosition.top;
			return node.startPosition.top + room + 20 > height - 64;
		}
	};
	const buffer = await pdfMake().createPdf(definition).getBuffer();
	if (signatureTop === 0) throw new Error('the place for the signatures was not found');
	return { pdf: new Uint8Array(buffer), pages, signaturePage, signatureTop };
}

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

function blockContent(block: LetterBlock): Content {
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
		case 'part':
			return { stack: block.content.map(blockContent) };
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
}
