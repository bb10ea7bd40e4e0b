import { z } from 'zod';

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
const orderedListSchema = z.object({
	type: z.literal('orderedList'),
	attrs: z.object({ start: z.number().int().min(1).max(9999).optional() }).optional(),
	content: z.array(listItemSchema).min(1).max(200)
});
const blockSchema = z.discriminatedUnion('type', [paragraphSchema, headingSchema, bulletListSchema, orderedListSchema]);
export const letterDocumentSchema = z.object({
	type: z.literal('doc'),
	content: z.array(blockSchema).min(1, 'The letter is empty.').max(500, 'The letter is too long.')
});

export type LetterInline = z.infer<typeof inlineSchema>;
export type LetterParagraph = z.infer<typeof paragraphSchema>;
export type LetterBlock = z.infer<typeof blockSchema>;
export type LetterDocument = z.infer<typeof letterDocumentSchema>;

/** The text of inline content, merge fields as their names in braces. */
export function plainText(content: readonly LetterInline[] = []): string {
	return content.map((node) => (node.type === 'text' ? node.text : node.type === 'hardBreak' ? '\n' : `{${node.attrs.name}}`)).join('');
}

function inlineRuns(document: LetterDocument): LetterInline[] {
	return document.content.flatMap((block) =>
		block.type === 'bulletList' || block.type === 'orderedList'
			? block.content.flatMap((item) => item.content.flatMap((p) => p.content ?? []))
			: (block.content ?? [])
	);
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
	return {
		type: 'doc',
		content: document.content.map((block): LetterBlock => {
			if (block.type === 'bulletList' || block.type === 'orderedList')
				return {
					...block,
					content: block.content.map((item) => ({
						...item,
						content: item.content.map((p) => ({ ...p, content: fillInline(p.content) }))
					}))
				};
			return { ...block, content: fillInline(block.content) };
		})
	};
}
