import { z } from 'zod';

/**
 * The words beside something asked, as rich text: the part of ProseMirror's JSON that they may contain. Anything else does not
 * parse; what a node carries beyond this is left out.
 */
const markSchema = z.discriminatedUnion('type', [
	z.object({ type: z.literal('bold') }),
	z.object({ type: z.literal('italic') }),
	z.object({ type: z.literal('link'), attrs: z.object({ href: z.string().max(500).refine(isSafeLink, 'This link cannot be followed.') }) })
]);
const inlineSchema = z.discriminatedUnion('type', [
	z.object({ type: z.literal('text'), text: z.string().min(1).max(4000), marks: z.array(markSchema).max(4).optional() }),
	z.object({ type: z.literal('hardBreak') })
]);
const paragraphSchema = z.object({ type: z.literal('paragraph'), content: z.array(inlineSchema).max(200).optional() });
const listSchema = <Type extends 'bulletList' | 'orderedList'>(type: Type) =>
	z.object({
		type: z.literal(type),
		content: z
			.array(z.object({ type: z.literal('listItem'), content: z.array(paragraphSchema).min(1).max(10) }))
			.min(1)
			.max(60)
	});
const blockSchema = z.discriminatedUnion('type', [
	paragraphSchema,
	listSchema('bulletList'),
	listSchema('orderedList'),
	// a picture that stands beside the line as a file of the firm
	z.object({ type: z.literal('picture'), attrs: z.object({ id: z.uuid(), alt: z.string().max(200).default('') }) })
]);
export const itemTextSchema = z.object({ type: z.literal('doc'), content: z.array(blockSchema).min(1).max(120, 'These words are too long.') });
export type ItemText = z.output<typeof itemTextSchema>;
export type ItemTextInline = z.output<typeof inlineSchema>;
type ItemTextBlock = z.output<typeof blockSchema>;

/** Whether a link leads to a page or a mail address, and nowhere else; one that hides where it leads behind a name does not. */
export function isSafeLink(href: string): boolean {
	try {
		const url = new URL(href);
		if (url.protocol === 'mailto:') return true;
		return (url.protocol === 'https:' || url.protocol === 'http:') && url.hostname.includes('.') && !url.username && !url.password;
	} catch {
		return false;
	}
}

/** A piece of it in plain words: the address of a link stands behind its words. */
export function inlineInWords(node: ItemTextInline): string {
	if (node.type === 'hardBreak') return '\n';
	const link = node.marks?.find((mark) => mark.type === 'link');
	return link && link.attrs.href !== node.text ? `${node.text} (${link.attrs.href})` : node.text;
}

const inlineWords = (content: readonly ItemTextInline[] | undefined): string => (content ?? []).map(inlineInWords).join('');

function blockWords(block: ItemTextBlock): string {
	if (block.type === 'picture') return block.attrs.alt;
	if (block.type === 'paragraph') return inlineWords(block.content);
	return block.content
		.map((item, i) => `${block.type === 'bulletList' ? '–' : `${i + 1}.`} ${item.content.map((p) => inlineWords(p.content)).join('\n')}`)
		.join('\n');
}

/** The same words plainly, for lists, messages and whoever reads without pictures: addresses of links stand behind their words. */
export function plainItemText(text: ItemText): string {
	return text.content
		.map(blockWords)
		.join('\n')
		.replace(/\n{3,}/g, '\n\n')
		.trim();
}

/** Plain words as rich text, a paragraph a line. */
export function itemTextOf(words: string): ItemText {
	return {
		type: 'doc',
		content: words.split('\n').map((line) => (line ? { type: 'paragraph', content: [{ type: 'text', text: line }] } : { type: 'paragraph' }))
	};
}

/** Rich text without the empty lines that an editor leaves at its end. */
export function withoutEmptyEnd(text: ItemText): ItemText {
	const last = text.content.findLastIndex((block) => block.type !== 'paragraph' || (block.content ?? []).length > 0);
	return { ...text, content: text.content.slice(0, Math.max(1, last + 1)) };
}

/** Whether rich text says nothing that plain words do not. */
export function isPlainItemText(text: ItemText): boolean {
	return text.content.every(
		(block) => block.type === 'paragraph' && (block.content ?? []).every((node) => node.type === 'hardBreak' || (node.marks ?? []).length === 0)
	);
}
