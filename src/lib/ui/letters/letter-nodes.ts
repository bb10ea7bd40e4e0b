import { Extension, mergeAttributes, Node } from '@tiptap/core';
import { Plugin } from '@tiptap/pm/state';
import { TableCell, TableHeader, TableKit } from '@tiptap/extension-table';
import type { Condition } from '$lib/core/requests/conditions';

/** A new page begins here. */
export const PageBreak = Node.create({
	name: 'pageBreak',
	group: 'block',
	atom: true,
	selectable: true,
	parseHTML: () => [{ tag: 'hr' }],
	renderHTML: ({ HTMLAttributes }) => ['hr', mergeAttributes(HTMLAttributes, { class: 'letter-break' })]
});

/** Numbered lists can go on with the number after the last one of the list before: while it is written they show it; see `numbered`. */
export const NumbersGoOn = Extension.create({
	name: 'numbersGoOn',
	addGlobalAttributes: () => [{ types: ['orderedList'], attributes: { goesOn: { default: false, rendered: false } } }],
	addProseMirrorPlugins: () => [
		new Plugin({
			appendTransaction(transactions, _before, { doc, tr }) {
				if (!transactions.some(({ docChanged }) => docChanged)) return null;
				let next = 1;
				doc.descendants((node, at) => {
					if (node.type.name !== 'orderedList') return node.type.name === 'part';
					const start = node.attrs.goesOn ? next : node.attrs.start;
					if (start !== node.attrs.start) tr.setNodeAttribute(at, 'start', start);
					next = start + node.childCount;
					return false;
				});
				return tr.docChanged ? tr : null;
			}
		})
	]
});

/** A part that comes only for some clients: for whom, its condition says. */
export const Part = Node.create({
	name: 'part',
	group: 'block',
	content: '(paragraph | heading | bulletList | orderedList | table | pageBreak | fees | payment)+',
	defining: true,
	addAttributes: () => ({ onlyIf: { default: null as Condition | null, rendered: false } }),
	parseHTML: () => [],
	renderHTML: ({ HTMLAttributes }) => ['div', mergeAttributes(HTMLAttributes, { class: 'letter-part' }), 0]
});

/** What stands as a whole among the words and is filled in for each client. */
const setPiece = (name: 'fees' | 'payment', words: string) =>
	Node.create({
		name,
		group: 'block',
		atom: true,
		selectable: true,
		parseHTML: () => [{ tag: `div[data-set="${name}"]` }],
		renderHTML: ({ HTMLAttributes }) => ['div', mergeAttributes(HTMLAttributes, { class: 'letter-set', 'data-set': name }), words]
	});
export const Fees = setPiece('fees', 'A table of the client’s services and what each costs');
export const Payment = setPiece('payment', 'Account for the payments: whoever signs first names it, and it is kept encrypted');

/** Cells hold paragraphs, and none reaches over others: what is pasted comes in as so many plain ones. */
const one = () => ({
	colspan: { default: 1, rendered: false },
	rowspan: { default: 1, rendered: false },
	colwidth: { default: null, rendered: false }
});
export const letterTable = [
	TableKit.configure({ table: { resizable: false }, tableCell: false, tableHeader: false }),
	TableCell.extend({ content: 'paragraph+', addAttributes: one }),
	TableHeader.extend({ content: 'paragraph+', addAttributes: one })
];
