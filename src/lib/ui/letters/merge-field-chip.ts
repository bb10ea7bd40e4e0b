import { InputRule, mergeAttributes, Node } from '@tiptap/core';
import { mergeFieldWords } from '$lib/core/letters/merge-fields';

/** A merge field as a chip that moves and goes as one character; a typed {name} of one of the fields becomes one. */
export const MergeField = Node.create<{ fields: Readonly<Record<string, string>> }>({
	name: 'mergeField',
	group: 'inline',
	inline: true,
	atom: true,
	addOptions: () => ({ fields: {} }),
	addAttributes: () => ({ name: { default: '' } }),
	parseHTML: () => [{ tag: 'span[data-merge-field]', getAttrs: (element) => ({ name: (element as HTMLElement).dataset.mergeField }) }],
	renderHTML({ node, HTMLAttributes }) {
		const { name } = node.attrs as { name: string };
		return [
			'span',
			mergeAttributes(HTMLAttributes, { 'data-merge-field': name, class: 'merge-chip' }),
			this.options.fields[name] ?? mergeFieldWords(name)
		];
	},
	renderText: ({ node }) => `{${String(node.attrs.name)}}`,
	addInputRules() {
		return [
			new InputRule({
				find: /\{([a-z][a-z0-9_]{0,59})\}$/,
				handler: ({ range, match, chain }) => {
					if (Object.hasOwn(this.options.fields, match[1]))
						chain()
							.deleteRange(range)
							.insertContent({ type: 'mergeField', attrs: { name: match[1] } })
							.run();
				}
			})
		];
	}
});
