<script lang="ts">
	import { untrack } from 'svelte';
	import { mergeFieldWords } from '$lib/core/letters/merge-fields';
	import type { WordsEditor } from './words-editor';

	/** Words with merge fields as chips. The form gets plain text with {name} fields. */
	let {
		name,
		label,
		value = $bindable(),
		fields = [],
		line = false,
		rows = 7,
		problem
	}: {
		name?: string;
		label: string;
		value: string;
		/** the fields that can be put in */ fields?: readonly string[];
		/** a single line, as a subject is */ line?: boolean;
		rows?: number;
		problem?: string;
	} = $props();
	const id = $props.id();
	let editor = $state.raw<WordsEditor>();
	let plain = $state<HTMLTextAreaElement>();
	let shown = untrack(() => value);

	/** Until the editor is loaded, a plain field stands in its place; what was typed there is taken over. */
	function attach(element: HTMLElement) {
		let left = false;
		void import('./words-editor').then(({ makeWordsEditor }) => {
			if (left) return;
			const typing = plain && document.activeElement === plain ? plain : null;
			shown = value;
			editor = makeWordsEditor(element, { words: value, line, labelledBy: id, onWords: (words) => (value = shown = words) });
			if (typing) editor.takeOver(value, typing.selectionStart, typing.selectionEnd);
		});
		return () => {
			left = true;
			untrack(() => editor)?.destroy();
		};
	}
	// words chosen elsewhere, such as a text of the Library, take the place of what stands here
	$effect(() => {
		const wanted = value;
		untrack(() => {
			if (!editor || wanted === shown) return;
			shown = wanted;
			editor.setWords(wanted);
		});
	});
	$effect(() => editor?.setProblem(problem !== undefined));
</script>

<div class="field">
	<span {id} class="flex flex-wrap items-baseline justify-between gap-x-3">{label}</span>
	{#if name}<input type="hidden" {name} {value} />{/if}
	{#if !editor}<textarea
			bind:this={plain}
			bind:value
			rows={line ? 1 : rows}
			aria-labelledby={id}
			aria-invalid={problem === undefined ? undefined : 'true'}></textarea>{/if}
	<div class="words" class:line style="--rows: {rows}" {@attach attach}></div>
	{#if fields.length > 0}
		<div class="flex flex-wrap items-center gap-x-3 gap-y-1 pt-1 text-xs">
			<span class="text-(--half)">Insert</span>
			{#each fields as field (field)}<button type="button" class="act-link" onclick={() => editor?.putIn(field)}
					>{mergeFieldWords(field).toLowerCase()}</button
				>{/each}
		</div>
	{/if}
</div>

<style>
	.words :global(.ProseMirror) {
		border: 1px solid var(--rule-strong);
		border-radius: 4px;
		background: var(--sheet);
		padding: 0.4rem 0.6rem;
		min-height: calc(var(--rows) * 1.5em + 0.9rem);
		max-height: 22rem;
		overflow: auto;
		white-space: pre-wrap;
		word-break: break-word;
		line-height: 1.5;
	}
	.words :global(.ProseMirror p) {
		margin: 0;
		min-height: 1.5em;
	}
	.words :global(.ProseMirror[aria-invalid]) {
		border-color: var(--wrong);
	}
	.line :global(.ProseMirror) {
		min-height: 0;
	}
</style>
