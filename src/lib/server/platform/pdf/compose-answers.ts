import type { Content, TDocumentDefinitions } from 'pdfmake/interfaces';
import { inlineInWords, type ItemText, type ItemTextInline } from '$lib/core/requests/item-text';
import { PAGE_MARGIN, pageFooter, pdfMake, SIGNATURE_HEIGHT } from './compose-letter';
import { drawable } from './fonts';

/** How one question stands on the sheet: with its answer, or with room for one. */
export interface SheetQuestion {
	number: number;
	title: string;
	/** what it hangs on, in words; empty for nothing */
	onlyIf: string;
	/** what explains it; null without explanations */
	help: ItemText | null;
	/** how deep it hangs below another one */
	depth: number;
	answer:
		| { is: 'given'; words: string; /** what was said of it */ note: string }
		| { is: 'rows'; columns: string[]; rows: string[][] }
		| { is: 'none'; words: string }
		| { is: 'choices'; choices: string[]; several: boolean }
		/** room to write */
		| { is: 'lines'; lines: number };
}

export interface AnswersToCompose {
	title: string;
	/** below the title: who answered when, or how to send it back */
	lead: string;
	firm: { name: string; color: string; logo: string | null };
	paper: 'A4' | 'LETTER';
	parts: { title: string; questions: SheetQuestion[] }[];
	pageWords: string;
	/** room for the signature below, with what is signed in words; left out where nobody signs */
	signed?: string;
}

export interface ComposedAnswers {
	pdf: Uint8Array;
	/** 1-based page with the room for the signature, and how far below its upper edge that begins, in points; null where nobody signs */
	signature: { page: number; top: number } | null;
}

const GREY = '#4d5866';
const RULE = '#b9b29f';
/** Longer answers, and tables of more rows, flow over pages; everything else stays together. */
const LONG_WORDS = 900;
const LONG_ROWS = 14;
/** Marks what flows, and how much of it at least stands below its question. */
const FLOWS = 'flows';
const LEAST_ROOM = 130;
/** Marks what is signed; its words and the signature below stay together. */
const SIGNED = 'signed';
const WORDS_HEIGHT = 40;
/** Room for a line that is written by hand, in points. */
const LINE = 22;

/**
 * A questionnaire as PDF with the shipped fonts: headings and questions are not left alone at the end of a page, long answers flow over
 * several. What the fonts cannot draw is shown by the sign for it, since nobody can be asked to take it out of an answer.
 */
export async function composeAnswers(sheet: AnswersToCompose): Promise<ComposedAnswers> {
	let signature: ComposedAnswers['signature'] = null;
	const width = (sheet.paper === 'A4' ? 595.28 : 612) - 2 * PAGE_MARGIN;
	const height = sheet.paper === 'A4' ? 841.89 : 792;
	// a text of several lines stays one: only each line is drawn
	const text = (words: string, font: 'serif' | 'sans' = 'sans') =>
		words
			.split('\n')
			.map((line) => drawable(line, font))
			.join('\n');
	const definition: TDocumentDefinitions = {
		pageSize: sheet.paper,
		pageMargins: [PAGE_MARGIN, 56, PAGE_MARGIN, 60],
		info: { title: sheet.title, author: sheet.firm.name },
		defaultStyle: { font: 'Sans', fontSize: 10, lineHeight: 1.28, color: '#1d2530' },
		content: [
			...(sheet.firm.logo
				? [{ image: sheet.firm.logo, fit: [130, 38] as [number, number], margin: [0, 0, 0, 6] as [number, number, number, number] }]
				: []),
			{ text: text(sheet.firm.name, 'serif'), font: 'Serif', fontSize: 12, bold: true, color: sheet.firm.color },
			{ text: text(sheet.title, 'serif'), font: 'Serif', fontSize: 19, bold: true, lineHeight: 1.15, margin: [0, 10, 0, 2] },
			{ text: text(sheet.lead), fontSize: 9, color: GREY, margin: [0, 0, 0, 12] },
			...sheet.parts.flatMap(part),
			...(sheet.signed === undefined
				? []
				: ([
						{ text: text(sheet.signed), id: SIGNED, margin: [0, 16, 0, 0] },
						{ canvas: [{ type: 'line', x1: 0, y1: SIGNATURE_HEIGHT, x2: 0.1, y2: SIGNATURE_HEIGHT, lineWidth: 0.1, lineColor: '#ffffff' }] }
					] satisfies Content[]))
		],
		footer: pageFooter(sheet.pageWords, 22),
		// what flows over pages does not begin at the very end of one
		pageBreakBefore: (node) => {
			if (node.id !== SIGNED) return node.id === FLOWS && node.startPosition.top > height - 60 - LEAST_ROOM;
			// below the words, which may need three lines
			signature = { page: node.startPosition.pageNumber, top: node.startPosition.top + WORDS_HEIGHT };
			return node.startPosition.top + WORDS_HEIGHT + SIGNATURE_HEIGHT > height - 60;
		}
	};
	const pdf = new Uint8Array(await pdfMake().createPdf(definition).getBuffer());
	if (sheet.signed !== undefined && signature === null) throw new Error('the place for the signature was not found');
	return { pdf, signature };

	/** The questions of a part; its heading stays with the first of them. */
	function part({ title, questions }: AnswersToCompose['parts'][number]): Content[] {
		const heading: Content[] = title ? [{ text: text(title, 'serif'), font: 'Serif', fontSize: 13, bold: true, margin: [0, 12, 0, 6] }] : [];
		return questions.map((one, i) => question(one, i === 0 ? heading : []));
	}

	function question({ number, title, onlyIf, help, depth, answer }: SheetQuestion, heading: Content[]): Content {
		const left = depth * 18;
		const flows =
			(answer.is === 'given' && (answer.words.length > LONG_WORDS || answer.words.split('\n').length > LONG_ROWS)) ||
			(answer.is === 'rows' && answer.rows.length > LONG_ROWS);
		const small = (words: string): Content[] => (words ? [{ text: text(words), fontSize: 8.5, color: GREY, margin: [left + 22, 1, 0, 0] }] : []);
		return {
			unbreakable: !flows,
			...(flows ? { id: FLOWS } : {}),
			stack: [
				...heading,
				{
					columns: [
						{ width: 22, text: `${number}.`, color: GREY },
						{ width: '*', text: text(title), bold: true }
					],
					margin: [left, 4, 0, 0]
				},
				...small(onlyIf),
				...(help ? [explained(help, [left + 22, 1, 0, 0])] : []),
				{ text: ' ', fontSize: 2 },
				...answered(answer, [left + 22, 0, 0, 8], width - left - 22)
			]
		};
	}

	/** Words with emphasis and lists; of a link its address stands behind it, of a picture its words. */
	function explained({ content }: ItemText, margin: [number, number, number, number]): Content {
		const inline = (nodes: readonly ItemTextInline[] | undefined) =>
			(nodes ?? []).map((node) => {
				if (node.type === 'hardBreak') return '\n';
				const has = (type: string) => node.marks?.some((mark) => mark.type === type) ?? false;
				return { text: text(inlineInWords(node)), bold: has('bold'), italics: has('italic') };
			});
		return {
			fontSize: 8.5,
			color: GREY,
			margin,
			stack: content.map((block): Content => {
				if (block.type === 'picture') return { text: text(block.attrs.alt) };
				if (block.type === 'paragraph') return { text: inline(block.content) };
				const entries = block.content.map((entry) => ({ stack: entry.content.map((p) => ({ text: inline(p.content) })) }));
				return block.type === 'bulletList' ? { ul: entries } : { ol: entries };
			})
		};
	}

	function answered(answer: SheetQuestion['answer'], margin: [number, number, number, number], room: number): Content[] {
		switch (answer.is) {
			case 'given':
				return [
					{ text: text(answer.words), margin: answer.note ? [margin[0], 0, 0, 1] : margin },
					...(answer.note ? [{ text: text(answer.note), fontSize: 8.5, color: GREY, margin }] : [])
				];
			case 'none':
				return [{ text: text(answer.words), color: GREY, margin }];
			case 'rows':
				return [
					{
						margin,
						layout: { hLineColor: () => RULE, vLineColor: () => RULE, hLineWidth: () => 0.5, vLineWidth: () => 0.5 },
						table: {
							headerRows: 1,
							dontBreakRows: true,
							widths: answer.columns.map(() => '*'),
							body: [
								answer.columns.map((column) => ({ text: text(column), fontSize: 8.5, color: GREY })),
								...answer.rows.map((row) => row.map((cell) => ({ text: cell ? text(cell) : ' ' })))
							]
						}
					}
				];
			case 'choices':
				return answer.choices.map((choice, i) => ({
					columns: [
						{
							width: 18,
							canvas: answer.several
								? [{ type: 'rect', x: 0, y: 1.5, w: 9, h: 9, lineWidth: 0.8, lineColor: GREY }]
								: [{ type: 'ellipse', x: 4.5, y: 6, r1: 4.5, r2: 4.5, lineWidth: 0.8, lineColor: GREY }]
						},
						{ width: '*', text: text(choice) }
					],
					margin: [margin[0], 1, 0, i === answer.choices.length - 1 ? 8 : 1] as [number, number, number, number]
				}));
			case 'lines':
				return [
					{
						canvas: Array.from({ length: answer.lines }, (_, i) => ({
							type: 'line' as const,
							x1: 0,
							y1: (i + 1) * LINE,
							x2: room,
							y2: (i + 1) * LINE,
							lineWidth: 0.5,
							lineColor: RULE
						})),
						margin: [margin[0], 0, 0, 12]
					}
				];
		}
	}
}
