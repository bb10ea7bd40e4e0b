import { Editor, type AnyExtension, type JSONContent } from '@tiptap/core';
import StarterKit, { type StarterKitOptions } from '@tiptap/starter-kit';

/**
 * An editor of formatted words in an element. Call it untracked: an editor that depended on what it writes itself would be made anew,
 * without focus, at each key.
 */
export function makeRichEditor(
	element: HTMLElement,
	given: {
		content: JSONContent;
		/** what can be formatted, beside paragraphs, lists, bold and italic */ kit: Partial<StarterKitOptions>;
		/** what stands among the words */ nodes: AnyExtension[];
		label: string;
		class?: string;
		changed: (content: JSONContent) => void;
		/** called when the selection moves, for what is pressed in the toolbar */ moved: (editor: Editor) => void;
	}
): Editor {
	return new Editor({
		element,
		injectCSS: false,
		extensions: [
			StarterKit.configure({ blockquote: false, code: false, codeBlock: false, horizontalRule: false, strike: false, ...given.kit }),
			...given.nodes
		],
		content: given.content,
		editorProps: {
			attributes: { class: given.class ?? '', role: 'textbox', 'aria-multiline': 'true', 'aria-label': given.label }
		},
		onUpdate: ({ editor }) => given.changed(editor.getJSON()),
		onTransaction: ({ editor }) => given.moved(editor)
	});
}
