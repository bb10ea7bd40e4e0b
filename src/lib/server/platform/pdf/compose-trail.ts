import type { Content, ContentText, TDocumentDefinitions } from 'pdfmake/interfaces';
import { PAGE_MARGIN, pageFooter, pdfMake } from './compose-letter';
import { drawable } from './fonts';

export interface TrailToCompose {
	title: string;
	/** below the title: whose it is, and how many entries it has */
	lead: string;
	firm: { name: string; color: string };
	paper: 'A4' | 'LETTER';
	/** what it says of itself, line by line */
	facts: { label: string; value: string }[];
	entries: { number: string; when: string; what: string; from: string; hash: string; /** whether the letter was sealed here */ end: boolean }[];
	pageWords: string;
}

const GREY = '#4d5866';
const RULE = '#d8cdb5';

/** The trail of a letter as PDF, in the order in which things happened. What the fonts cannot draw is shown by the sign for it. */
export async function composeTrail(trail: TrailToCompose): Promise<Uint8Array> {
	const small = (text: string): ContentText => ({ text: drawable(text, 'sans'), fontSize: 8, color: GREY });
	const definition: TDocumentDefinitions = {
		pageSize: trail.paper,
		pageMargins: [PAGE_MARGIN, 56, PAGE_MARGIN, 60],
		info: { title: trail.title, author: trail.firm.name },
		defaultStyle: { font: 'Sans', fontSize: 9.5, lineHeight: 1.25, color: '#1d2530' },
		content: [
			{ text: drawable(trail.firm.name, 'serif'), font: 'Serif', fontSize: 12, bold: true, color: trail.firm.color },
			{ text: drawable(trail.title, 'serif'), font: 'Serif', fontSize: 19, bold: true, lineHeight: 1.15, margin: [0, 10, 0, 2] },
			{ text: drawable(trail.lead, 'sans'), color: GREY, margin: [0, 0, 0, 10] },
			...trail.facts.map(({ label, value }): Content => ({
				columns: [
					{ width: 120, ...small(label) },
					{ width: '*', ...small(value), color: '#1d2530' }
				],
				margin: [0, 0, 0, 2]
			})),
			{
				margin: [0, 12, 0, 0],
				layout: {
					hLineColor: () => RULE,
					hLineWidth: (row) => (row === 0 ? 0 : 0.6),
					vLineWidth: () => 0,
					paddingLeft: () => 0,
					paddingRight: () => 8
				},
				table: {
					widths: [20, 116, '*'],
					dontBreakRows: true,
					body: trail.entries.map(({ number, when, what, from, hash, end }) => [
						small(number),
						small(when),
						{
							stack: [
								{ text: drawable(what, 'sans'), bold: end },
								...(from ? [small(from)] : []),
								{ text: hash, fontSize: 6.5, color: GREY, characterSpacing: 0.2 }
							]
						}
					])
				}
			}
		],
		footer: pageFooter(trail.pageWords, 22)
	};
	return new Uint8Array(await pdfMake().createPdf(definition).getBuffer());
}
