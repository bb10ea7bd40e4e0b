import { InputRule, mergeAttributes, Node } from '@tiptap/core';
import { MERGE_FIELDS, mergeFieldWords } from '$lib/core/letters/merge-fields';

/** A merge field as a chip that moves and goes as one character; a typed {name} becomes one. */
export const MergeField = Node.create({
	name: 'mergeField',
	group: 'inline',
	inline: true,
	atom: true,
	addAttributes: () => ({ name: { default: '' } }),
	parseHTML: () => [{ tag: 'span[data-merge-field]', getAttrs: (element) => ({ name: (element as HTMLElement).dataset.mergeField }) }],
	renderHTML: ({ node, HTMLAttributes }) => [
		'span',
		mergeAttributes(HTMLAttributes, { 'data-merge-field': node.attrs.name, class: 'merge-chip' }),
		mergeFieldWords(node.attrs.name)
	],
	renderText: ({ node }) => `{${String(node.attrs.name)}}`,
	addInputRules() {
		return [
			new InputRule({
				find: /\{([a-z_]{1,60})\}$/,
				handler: ({ range, match, chain }) => {
					if (match[1] in MERGE_FIELDS)
						chain()
							.deleteRange(range)
							.insertContent({ type: 'mergeField', attrs: { name: match[1] } })
							.run();
				}
			})
		];
	}
});
