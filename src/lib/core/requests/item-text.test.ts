import { expect, test } from 'vitest';
import { isPlainItemText, isSafeLink, itemTextOf, itemTextSchema, plainItemText, withoutEmptyEnd } from './item-text';
import { picturesIn } from './files-beside';

const link = (href: string) => ({ type: 'link', attrs: { href, target: '_blank', onclick: 'x' } });
const rich = (href = 'https://bank.example/export') => ({
	type: 'doc',
	content: [
		{
			type: 'paragraph',
			content: [{ type: 'text', text: 'All pages', marks: [{ type: 'bold' }] }, { type: 'hardBreak' }, { type: 'text', text: 'please' }]
		},
		{
			type: 'orderedList',
			content: [{ type: 'listItem', content: [{ type: 'paragraph', content: [{ type: 'text', text: 'Go here', marks: [link(href)] }] }] }]
		},
		{ type: 'picture', attrs: { id: '0198a000-0000-7000-8000-000000000001', alt: 'where the button is', src: 'javascript:x' } },
		{ type: 'paragraph' }
	]
});

test('what is allowed is kept, what a node carries beyond it is not', () => {
	const text = itemTextSchema.parse(rich());
	expect(JSON.stringify(text)).not.toMatch(/onclick|javascript|target/);
	expect(picturesIn(text)).toEqual(['0198a000-0000-7000-8000-000000000001']);
	expect(plainItemText(text)).toBe('All pages\nplease\n1. Go here (https://bank.example/export)\nwhere the button is');
	expect(isPlainItemText(text)).toBe(false);
});

test.each(['javascript:alert(1)', 'data:text/html,x', 'https://bank.example@evil.example/', 'https://localhost', 'vbscript:x', '//evil.example', ''])(
	'a link to %j is refused',
	(href) => {
		expect(isSafeLink(href)).toBe(false);
		expect(itemTextSchema.safeParse(rich(href)).success).toBe(false);
	}
);
test('pages and mail addresses are followed', () => {
	for (const href of ['https://bank.example/a?b#c', 'http://old.example', 'mailto:books@firm.example']) expect(isSafeLink(href)).toBe(true);
});

test('anything else does not parse: scripts, frames, pictures from elsewhere, nesting without end', () => {
	for (const node of [
		{ type: 'script', content: [] },
		{ type: 'iframe', attrs: { src: 'https://x.example' } },
		{ type: 'image', attrs: { src: 'https://x.example/a.png' } },
		{ type: 'picture', attrs: { id: '../../etc' } },
		{ type: 'heading', content: [] }
	])
		expect(itemTextSchema.safeParse({ type: 'doc', content: [node] }).success, node.type).toBe(false);
	expect(itemTextSchema.safeParse({ type: 'doc', content: Array.from({ length: 200 }, () => ({ type: 'paragraph' })) }).success).toBe(false);
});

test('empty lines that an editor leaves at the end are none', () => {
	const [line, empty] = itemTextOf('a\n').content;
	const of = (...content: (typeof line)[]) => withoutEmptyEnd({ type: 'doc', content }).content;
	expect(of(line, empty, line, empty, empty)).toEqual([line, empty, line]);
	expect(of(empty, empty)).toEqual([empty]);
});

test('plain words there and back', () => {
	for (const words of ['', 'one line', 'two\nlines', 'a\n\nb']) {
		const text = itemTextOf(words);
		expect(plainItemText(text)).toBe(words);
		expect(isPlainItemText(text)).toBe(true);
	}
});
