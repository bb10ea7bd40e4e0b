import { z } from 'zod';
import { conditionSchema } from '../requests/condition-schema';

/**
 * A letter as rich text: the part of ProseMirror's JSON that a letter may contain. Anything else
 * (pictures, scripts, unknown nodes) does not parse.
 */
const markSchema = z.object({ type: z.enum(['bold', 'italic', 'underline']) });
const textSchema = z.object({
	type: z.literal('text'),
	text: z.string().min(1).max(20_000),
	marks: z.array(markSchema).optional()
});
const mergeFieldSchema = z.object({
	type: z.literal('mergeField'),
	attrs: z.object({ name: z.string().min(1).max(60) }),
	marks: z.array(markSchema).optional()
});
const hardBreakSchema = z.object({ type: z.literal('hardBreak') });
const inlineSchema = z.discriminatedUnion('type', [textSchema, mergeFieldSchema, hardBreakSchema]);
const paragraphSchema = z.object({
	type: z.literal('paragraph'),
	content: z.array(inlineSchema).optional()
});
const headingSchema = z.object({
	type: z.literal('heading'),
	attrs: z.object({ level: z.number().int().min(1).max(3) }),
	content: z.array(inlineSchema).optional()
});
const listItemSchema = z.object({
	type: z.literal('listItem'),
	content: z.array(paragraphSchema).min(1).max(20)
});
const bulletListSchema = z.object({
	type: z.literal('bulletList'),
	content: z.array(listItemSchema).min(1).max(200)
});
/** The highest number of a clause. */
const NUMBER_MOST = 9999;
const orderedListSchema = z.object({
	type: z.literal('orderedList'),
	attrs: z
		.object({
			start: z.number().int().min(1).max(NUMBER_MOST).optional(),
			/** it begins with the number after the last one of the list before, whatever stands between */
			goesOn: z.boolean().optional()
		})
		.optional(),
	content: z.array(listItemSchema).min(1).max(200)
});
/** A new page begins here. */
const pageBreakSchema = z.object({ type: z.literal('pageBreak') });
/** The services with their fees: a table once it is known for whom. */
const feesSchema = z.object({ type: z.literal('fees') });
/** Where whoever signs names the account from which fees may be collected. */
const paymentSchema = z.object({ type: z.literal('payment') });
const cell = { content: z.array(paragraphSchema).min(1).max(20) };
const tableSchema = z.object({
	type: z.literal('table'),
	content: z
		.array(
			z.object({
				type: z.literal('tableRow'),
				content: z
					.array(
						z.discriminatedUnion('type', [z.object({ type: z.literal('tableCell'), ...cell }), z.object({ type: z.literal('tableHeader'), ...cell })])
					)
					.min(1)
					.max(12, 'A table has at most 12 columns.')
			})
		)
		.min(1)
		.max(200, 'A table has at most 200 rows.')
});
const plainBlockSchema = z.discriminatedUnion('type', [
	paragraphSchema,
	headingSchema,
	bulletListSchema,
	orderedListSchema,
	pageBreakSchema,
	tableSchema,
	feesSchema,
	paymentSchema
]);
/** A part that comes only for clients for whom a condition holds. */
const partSchema = z.object({
	type: z.literal('part'),
	attrs: z.object({ onlyIf: conditionSchema }),
	content: z.array(plainBlockSchema).min(1).max(200)
});
const blockSchema = z.discriminatedUnion('type', [...plainBlockSchema.options, partSchema]);
export const letterDocumentSchema = z.object({
	type: z.literal('doc'),
	content: z.array(blockSchema).min(1, 'The letter is empty.').max(500, 'The letter is too long.')
});

export type LetterInline = z.infer<typeof inlineSchema>;
export type LetterParagraph = z.infer<typeof paragraphSchema>;
export type LetterBlock = z.infer<typeof blockSchema>;
export type LetterPart = z.infer<typeof partSchema>;
export type LetterTable = z.infer<typeof tableSchema>;
export type LetterDocument = z.infer<typeof letterDocumentSchema>;

/** The text of inline content, merge fields as their names in braces. */
export function plainText(content: readonly LetterInline[] = []): string {
	return content.map((node) => (node.type === 'text' ? node.text : node.type === 'hardBreak' ? '\n' : `{${node.attrs.name}}`)).join('');
}

/** The paragraphs and headings of a block, in the order in which they are read. */
function wordsOf(block: LetterBlock): (LetterInline[] | undefined)[] {
	switch (block.type) {
		case 'bulletList':
		case 'orderedList':
			return block.content.flatMap((item) => item.content.map((p) => p.content));
		case 'table':
			return block.content.flatMap((row) => row.content.flatMap((one) => one.content.map((p) => p.content)));
		case 'part':
			return block.content.flatMap(wordsOf);
		case 'pageBreak':
		case 'fees':
		case 'payment':
			return [];
		default:
			return [block.content];
	}
}

/** The words of a block, as they stand in it. */
export const blockText = (block: LetterBlock): string =>
	wordsOf(block)
		.map((content) => plainText(content))
		.join('\n');

/** The passages of a letter, each an entry of a list, a row of a table, a heading or a paragraph. */
export function passagesOf(blocks: readonly LetterBlock[]): string[] {
	return blocks
		.flatMap((block) => {
			if (block.type === 'part') return passagesOf(block.content);
			if (block.type === 'bulletList' || block.type === 'orderedList')
				return block.content.map((item) => item.content.map((p) => plainText(p.content)).join('\n'));
			if (block.type === 'table')
				return block.content.map((row) => row.content.map((one) => one.content.map((p) => plainText(p.content)).join(' ')).join(' | '));
			return [blockText(block)];
		})
		.filter((text) => text.trim() !== '');
}

function inlineRuns(document: LetterDocument): LetterInline[] {
	return document.content.flatMap((block) => wordsOf(block).flatMap((content) => content ?? []));
}

/** True when a letter holds no words at all. */
export function isBlankLetter(document: LetterDocument): boolean {
	return inlineRuns(document).every((node) => node.type === 'hardBreak' || plainText([node]).trim() === '');
}

/** The names of the merge fields a letter uses, each once, in the order of first use. */
export function mergeFieldsOf(document: LetterDocument): string[] {
	const names = inlineRuns(document).flatMap((node) => (node.type === 'mergeField' ? [node.attrs.name] : []));
	return [...new Set(names)];
}

/** A letter with every merge field that has a value turned into text; the others stay as they are. */
export function fillLetter(document: LetterDocument, values: Readonly<Record<string, string>>): LetterDocument {
	const fillInline = (content: LetterInline[] | undefined) =>
		content?.map((node): LetterInline => {
			if (node.type !== 'mergeField') return node;
			const value = values[node.attrs.name]?.trim();
			if (!value) return node;
			return node.marks ? { type: 'text', text: value, marks: node.marks } : { type: 'text', text: value };
		});
	const paragraphs = (content: LetterParagraph[]) => content.map((p) => ({ ...p, content: fillInline(p.content) }));
	const fillBlock = <Block extends LetterBlock>(block: Block): Block => {
		switch (block.type) {
			case 'bulletList':
			case 'orderedList':
				return { ...block, content: block.content.map((item) => ({ ...item, content: paragraphs(item.content) })) };
			case 'table':
				return {
					...block,
					content: block.content.map((row) => ({ ...row, content: row.content.map((one) => ({ ...one, content: paragraphs(one.content) })) }))
				};
			case 'part':
				return { ...block, content: block.content.map(fillBlock) };
			case 'pageBreak':
			case 'fees':
			case 'payment':
				return block;
			default:
				return { ...block, content: fillInline(block.content) };
		}
	};
	return { type: 'doc', content: document.content.map(fillBlock) };
}

/** A letter in which each numbered list that goes on begins with the number after the last one of the list before. */
export function numbered(document: LetterDocument): LetterDocument {
	let next = 1;
	const withNumber = <Block extends LetterBlock>(block: Block): Block => {
		if (block.type === 'part') return { ...block, content: block.content.map(withNumber) };
		if (block.type !== 'orderedList') return block;
		const start = Math.min(block.attrs?.goesOn ? next : (block.attrs?.start ?? 1), NUMBER_MOST);
		next = start + block.content.length;
		return { ...block, attrs: { ...block.attrs, start } };
	};
	return { type: 'doc', content: document.content.map(withNumber) };
}

/** A letter as it is for somebody: with the parts that are for them, and without those that are not. */
export function withoutParts(document: LetterDocument, isFor: (part: LetterPart, number: number) => boolean): LetterDocument {
	let number = 0;
	const content = document.content.flatMap((block): LetterBlock[] =>
		block.type === 'part' ? (isFor(block, ++number) ? block.content : []) : [block]
	);
	return numbered({ type: 'doc', content: content.length > 0 ? content : [{ type: 'paragraph' }] });
}

/** The parts of a letter that hang on something, in order. */
export const partsOf = (document: LetterDocument): LetterPart[] => document.content.filter((block) => block.type === 'part');
