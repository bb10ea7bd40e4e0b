<script lang="ts">
	import { untrack } from 'svelte';
	import { Editor } from '@tiptap/core';
	import StarterKit from '@tiptap/starter-kit';
	import type { LetterDocument } from '$lib/core/letters/letter-document';
	import { MERGE_FIELDS } from '$lib/core/letters/merge-fields';
	import { MergeField } from './merge-field-chip';

	let { document = $bindable(), label }: { document: LetterDocument; label: string } = $props();
	let editor = $state.raw<Editor>();
	let marks = $state({ bold: false, italic: false, heading: false, list: false });

	/** Everything is read once: an editor that depended on what it writes itself would be made anew, without focus, at each key. */
	const attach = (element: HTMLElement) => untrack(() => makeEditor(element));
	function makeEditor(element: HTMLElement) {
		const made = new Editor({
			element,
			injectCSS: false,
			extensions: [
				StarterKit.configure({
					heading: { levels: [2, 3] },
					blockquote: false,
					code: false,
					codeBlock: false,
					horizontalRule: false,
					strike: false,
					link: false
				}),
				MergeField
			],
			content: structuredClone($state.snapshot(document)),
			editorProps: { attributes: { class: 'letter-text', role: 'textbox', 'aria-multiline': 'true', 'aria-label': label } },
			onUpdate: ({ editor: current }) => {
				document = current.getJSON() as LetterDocument;
			},
			onTransaction: ({ editor: current }) => {
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
	}
</script>

<div class="border border-(--rule-strong) bg-(--sheet)">
	<div class="flex flex-wrap gap-1 border-b border-(--rule-strong) p-1.5" role="toolbar" aria-label="Format the letter">
		<button type="button" class="act-quiet !min-h-7 font-bold" aria-pressed={marks.bold} onclick={() => editor?.chain().focus().toggleBold().run()}
			>Bold</button
		>
		<button type="button" class="act-quiet !min-h-7 italic" aria-pressed={marks.italic} onclick={() => editor?.chain().focus().toggleItalic().run()}
			>Italic</button
		>
		<button
			type="button"
			class="act-quiet !min-h-7"
			aria-pressed={marks.heading}
			onclick={() => editor?.chain().focus().toggleHeading({ level: 2 }).run()}>Heading</button
		>
		<button type="button" class="act-quiet !min-h-7" aria-pressed={marks.list} onclick={() => editor?.chain().focus().toggleBulletList().run()}
			>List</button
		>
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
			{#each Object.entries(MERGE_FIELDS) as [name, words] (name)}<option value={name}>{words}</option>{/each}
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
	[aria-pressed='true'] {
		background: var(--lamp-light);
		border-color: var(--lamp-edge);
	}
</style>
