<script lang="ts">
	import { untrack } from 'svelte';
	import type { Editor } from '@tiptap/core';
	import type { LetterDocument } from '$lib/core/letters/letter-document';
	import { PAYMENT_WORDS } from '$lib/core/letters/ready-made-letter';
	import MarkButton from '../forms/MarkButton.svelte';
	import { makeRichEditor } from '../forms/rich-editor';
	import { conditionInWords, firstCondition, type Condition } from '$lib/core/requests/conditions';
	import type { FirmFacts } from '$lib/core/facts/fact-definition';
	import ConditionEditor from '../asking/ConditionEditor.svelte';
	import { Fees, letterTable, NumbersGoOn, PageBreak, Part, Payment } from './letter-nodes';
	import { MergeField } from './merge-field-chip';

	let {
		document = $bindable(),
		label,
		fields,
		services,
		facts
	}: {
		document: LetterDocument;
		label: string;
		/** what can be put in, by name, with its words */ fields: Readonly<Record<string, string>>;
		/** names of what the firm does */ services: string[];
		/** what a part may hang on */ facts: FirmFacts;
	} = $props();
	let editor = $state.raw<Editor>();
	let marks = $state({
		bold: false,
		italic: false,
		heading: false,
		list: false,
		numbered: false,
		goesOn: false,
		table: false,
		part: null as Condition | null
	});

	/** What is pressed leaves the focus among the words. */
	const keep = (event: MouseEvent) => event.preventDefault();
	function togglePart() {
		if (marks.part) editor?.chain().focus().lift('part').run();
		else
			editor
				?.chain()
				.focus()
				.wrapIn('part', { onlyIf: firstCondition(facts) })
				.run();
	}
	/** The focus stays where the condition is being written. */
	const setCondition = (condition: Condition) => void editor?.commands.updateAttributes('part', { onlyIf: $state.snapshot(condition) });

	const attach = (element: HTMLElement) =>
		untrack(() => {
			const made = makeRichEditor(element, {
				content: structuredClone($state.snapshot(document)),
				kit: { heading: { levels: [2, 3] }, link: false },
				nodes: [MergeField.configure({ fields }), PageBreak, Part, Fees, Payment, NumbersGoOn, ...letterTable],
				label,
				class: 'letter-text',
				changed: (content) => (document = content as LetterDocument),
				moved: (current) => {
					marks = {
						bold: current.isActive('bold'),
						italic: current.isActive('italic'),
						heading: current.isActive('heading'),
						list: current.isActive('bulletList'),
						numbered: current.isActive('orderedList'),
						goesOn: current.getAttributes('orderedList').goesOn === true,
						table: current.isActive('table'),
						part: current.isActive('part') ? (current.getAttributes('part').onlyIf as Condition) : null
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
		<MarkButton pressed={marks.numbered} run={() => editor?.chain().focus().toggleOrderedList().run()}>Numbered</MarkButton>
		{#if marks.numbered}<MarkButton
				pressed={marks.goesOn}
				run={() => editor?.chain().focus().updateAttributes('orderedList', { goesOn: !marks.goesOn, start: 1 }).run()}>Numbers go on</MarkButton
			>{/if}
		{#if !marks.table}<MarkButton pressed={false} run={() => editor?.chain().focus().insertTable({ rows: 3, cols: 2, withHeaderRow: true }).run()}
				>Table</MarkButton
			>{/if}
		<MarkButton pressed={false} run={() => editor?.chain().focus().insertContent({ type: 'pageBreak' }).run()}>New page</MarkButton>
		<MarkButton pressed={marks.part !== null} run={togglePart}>Only for some</MarkButton>
		<select
			class="line-input !w-auto !py-0.5 text-sm"
			aria-label="Insert a field"
			onchange={(event) => {
				const name = event.currentTarget.value;
				event.currentTarget.value = '';
				if (name === ':fees') editor?.chain().focus().insertContent({ type: 'fees' }).run();
				else if (name === ':payment')
					editor
						?.chain()
						.focus()
						.insertContent([...PAYMENT_WORDS])
						.run();
				else if (name) editor?.chain().focus().insertContent({ type: 'mergeField', attrs: { name } }).run();
			}}
		>
			<option value="">Insert a field …</option>
			<optgroup label="In the words">
				{#each Object.entries(fields) as [name, words] (name)}<option value={name}>{words}</option>{/each}
			</optgroup>
			<optgroup label="Tables and accounts">
				<option value=":fees">Table of fees</option>
				<option value=":payment">Payment authorisation</option>
			</optgroup>
		</select>
	</div>
	{#if marks.table}
		<p class="flex flex-wrap gap-x-4 gap-y-1 border-b border-(--rule) px-3 py-1.5 text-sm" aria-label="The table">
			<button type="button" class="act-link" onmousedown={keep} onclick={() => editor?.chain().focus().addRowAfter().run()}>Row below</button>
			<button type="button" class="act-link" onmousedown={keep} onclick={() => editor?.chain().focus().addColumnAfter().run()}
				>Column to the right</button
			>
			<button type="button" class="act-link" onmousedown={keep} onclick={() => editor?.chain().focus().deleteRow().run()}>Take this row out</button>
			<button type="button" class="act-link" onmousedown={keep} onclick={() => editor?.chain().focus().deleteColumn().run()}
				>Take this column out</button
			>
			<button type="button" class="act-link" onmousedown={keep} onclick={() => editor?.chain().focus().deleteTable().run()}>Take the table out</button
			>
		</p>
	{/if}
	{#if marks.part}
		<div class="border-b border-(--rule) bg-(--paper) px-3 py-2" role="group" aria-label="When this part comes">
			<p class="mb-1 text-sm">
				This part comes only if {conditionInWords(marks.part, facts, (_fact, value) => value)}.
			</p>
			<ConditionEditor bind:condition={() => marks.part!, setCondition} {services} {facts} />
			<button type="button" class="act-link mt-1 text-sm" onclick={togglePart}>For everybody</button>
		</div>
	{/if}
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
