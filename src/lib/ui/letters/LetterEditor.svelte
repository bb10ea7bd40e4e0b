<script lang="ts">
	import { untrack } from 'svelte';
	import type { Editor } from '@tiptap/core';
	import type { LetterDocument } from '$lib/core/letters/letter-document';
	import MarkButton from '../forms/MarkButton.svelte';
	import { makeRichEditor } from '../forms/rich-editor';
	import { MergeField } from './merge-field-chip';

	let {
		document = $bindable(),
		label,
		fields
	}: {
		document: LetterDocument;
		label: string;
		/** what can be put in, by name, with its words */ fields: Readonly<Record<string, string>>;
	} = $props();
	let editor = $state.raw<Editor>();
	let marks = $state({ bold: false, italic: false, heading: false, list: false });

	const attach = (element: HTMLElement) =>
		untrack(() => {
			const made = makeRichEditor(element, {
				content: structuredClone($state.snapshot(document)),
				kit: { heading: { levels: [2, 3] }, link: false },
				node: MergeField.configure({ fields }),
				label,
				class: 'letter-text',
				changed: (content) => (document = content as LetterDocument),
				moved: (current) => {
					marks = {
						bold: current.isActive('bold'),
						italic: current.isActive('italic'),
						heading: current.isActive('heading'),
						list: current.isActive('bulletList')
					};
				}
			});
			editor = made;
			return () => made.destroy();
		});
</script>

<div class="border border-(--rule-strong) bg-(--sheet)">
	<div class="flex flex-wrap gap-1 border-b border-(--rule-strong) p-1.5" role="toolbar" aria-label="Format the letter">
		<MarkButton pressed={marks.bold} look="font-bold" run={() => editor?.chain().focus().toggleBold().run()}>Bold</MarkButton>
		<MarkButton pressed={marks.italic} look="italic" run={() => editor?.chain().focus().toggleItalic().run()}>Italic</MarkButton>
		<MarkButton pressed={marks.heading} run={() => editor?.chain().focus().toggleHeading({ level: 2 }).run()}>Heading</MarkButton>
		<MarkButton pressed={marks.list} run={() => editor?.chain().focus().toggleBulletList().run()}>List</MarkButton>
		<select
			class="line-input !w-auto !py-0.5 text-sm"
			aria-label="Insert a field"
			onchange={(event) => {
				const name = event.currentTarget.value;
				event.currentTarget.value = '';
				if (name) editor?.chain().focus().insertContent({ type: 'mergeField', attrs: { name } }).run();
			}}
		>
			<option value="">Insert a field …</option>
			{#each Object.entries(fields) as [name, words] (name)}<option value={name}>{words}</option>{/each}
		</select>
	</div>
	<div class="editor max-h-[26rem] overflow-auto px-5 py-4" {@attach attach}></div>
</div>

<style>
	.editor :global(.ProseMirror) {
		outline: none;
		white-space: pre-wrap;
		word-break: break-word;
		min-height: 8rem;
	}
</style>
