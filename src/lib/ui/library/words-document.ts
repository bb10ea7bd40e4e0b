import { MERGE_FIELDS } from '$lib/core/letters/merge-fields';

interface WordsNode {
	type: string;
	attrs?: Record<string, unknown>;
	text?: string;
	content?: WordsNode[];
}

/** Plain text with {name} fields as what an editor shows: one paragraph a line, known fields as chips. */
export function documentOfWords(words: string): WordsNode {
	return {
		type: 'doc',
		content: words.split('\n').map((line) => {
			const content = line
				.split(/(\{[a-z_]{1,60}\})/)
				.filter(Boolean)
				.map((part): WordsNode => {
					const name = /^\{([a-z_]+)\}$/.exec(part)?.[1];
					return name && name in MERGE_FIELDS ? { type: 'mergeField', attrs: { name } } : { type: 'text', text: part };
				});
			return content.length > 0 ? { type: 'paragraph', content } : { type: 'paragraph' };
		})
	};
}

/**
 * Where a place in plain words stands in the document made of them, counted as ProseMirror counts: a chip is one, the
 * border between two lines two. A place inside a field is the one behind its chip.
 */
export function documentPosition(words: string, offset: number): number {
	let before = words.slice(0, offset);
	for (const { 0: field, 1: name, index } of words.matchAll(/\{([a-z_]{1,60})\}/g))
		if (name in MERGE_FIELDS && index < offset && offset < index + field.length) before = words.slice(0, index + field.length);
	const size = (node: WordsNode): number => (node.content ?? []).reduce((sum, part) => sum + (part.text?.length ?? 1), 2);
	return documentOfWords(before).content!.reduce((sum, paragraph) => sum + size(paragraph), -1);
}

/** What stands in an editor as plain text with {name} fields. */
export function wordsOfDocument(document: WordsNode): string {
	return (document.content ?? [])
		.map((paragraph) =>
			(paragraph.content ?? [])
				.map((node) => (node.type === 'mergeField' ? `{${String(node.attrs?.name)}}` : node.type === 'hardBreak' ? '\n' : (node.text ?? '')))
				.join('')
		)
		.join('\n');
}
