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
