import { MERGE_FIELDS } from '$lib/core/letters/merge-fields';
import { Editor, Extension } from '@tiptap/core';
import StarterKit from '@tiptap/starter-kit';
import { MergeField } from '../letters/merge-field-chip';
import { documentOfWords, documentPosition, wordsOfDocument } from './words-document';

/** Enter does nothing in a line such as a subject. */
const SingleLine = Extension.create({ name: 'singleLine', addKeyboardShortcuts: () => ({ Enter: () => true, 'Shift-Enter': () => true }) });

export interface WordsEditor {
	setWords(words: string): void;
	putIn(field: string): void;
	setProblem(wrong: boolean): void;
	/** takes over from a plain field with the same words: focus and what was selected there, at once, so that no key is lost */
	takeOver(words: string, from: number, to: number): void;
	destroy(): void;
}

/** An editor for plain words with merge fields as chips. Loaded only where somebody writes: it is large. */
export function makeWordsEditor(
	element: HTMLElement,
	given: { words: string; line: boolean; labelledBy: string; onWords: (words: string) => void }
): WordsEditor {
	const editor = new Editor({
		element,
		injectCSS: false,
		extensions: [
			StarterKit.configure({
				heading: false,
				blockquote: false,
				bold: false,
				italic: false,
				underline: false,
				bulletList: false,
				orderedList: false,
				listItem: false,
				listKeymap: false,
				code: false,
				codeBlock: false,
				horizontalRule: false,
				strike: false,
				link: false,
				trailingNode: false,
				...(given.line ? { hardBreak: false } : {})
			}),
			MergeField.configure({ fields: MERGE_FIELDS }),
			...(given.line ? [SingleLine] : [])
		],
		content: documentOfWords(given.words),
		editorProps: {
			attributes: { role: 'textbox', 'aria-labelledby': given.labelledBy, ...(given.line ? {} : { 'aria-multiline': 'true' }) }
		},
		onUpdate: ({ editor: current }) => {
			const words = wordsOfDocument(current.getJSON() as Parameters<typeof wordsOfDocument>[0]);
			given.onWords(given.line ? words.replace(/\n/g, ' ') : words);
		}
	});
	return {
		setWords: (words) => void editor.commands.setContent(documentOfWords(words), { emitUpdate: false }),
		putIn: (name) => void editor.chain().focus().insertContent({ type: 'mergeField', attrs: { name } }).run(),
		setProblem: (wrong) => void editor.view.dom.toggleAttribute('aria-invalid', wrong),
		takeOver: (words, from, to) => {
			editor.commands.setTextSelection({ from: documentPosition(words, from), to: documentPosition(words, to) });
			editor.view.focus();
		},
		destroy: () => editor.destroy()
	};
}
