<script lang="ts">
	import { ITEM_KIND_NAMES, ITEM_KINDS } from '$lib/core/items/item-kinds';
	import type { LetterDocument } from '$lib/core/letters/letter-document';
	import { linesOfText } from '$lib/core/requests/request-list';
	import type { ListInHand } from './list-in-hand.svelte';

	/** The last line of a list: what can be added to it, one by one or pasted. */
	let {
		list,
		letter,
		dueOn
	}: {
		list: ListInHand;
		/** what a new letter begins with */ letter: LetterDocument;
		/** due date of a new line without one before it */ dueOn: string;
	} = $props();
	let pasting = $state<string | null>(null);
	let said = $state('');

	function paste() {
		const added = list.paste(pasting ?? '', dueOn);
		said = `${added} ${added === 1 ? 'line' : 'lines'} added.`;
		pasting = null;
	}
</script>

<p class="sr" aria-live="polite">{said}</p>
<div class="line-row add">
	<span class="line-kind">add</span>
	<div class="flex flex-wrap items-center gap-x-3.5 gap-y-1 py-1 text-sm">
		{#each ITEM_KIND_NAMES.filter((name) => ITEM_KINDS[name].written) as kind (kind)}<button
				class="act-link"
				title={ITEM_KINDS[kind].words.about}
				onclick={() => list.add(kind, dueOn, letter)}>{ITEM_KINDS[kind].words.words}</button
			>{/each}
		<button class="act-link" aria-expanded={pasting !== null} onclick={() => (pasting = pasting === null ? '' : null)}>paste a list …</button>
	</div>
	{#if pasting !== null}
		<div class="col-start-2 space-y-2 pb-3">
			<!-- svelte-ignore a11y_autofocus -->
			<label class="field"
				><span>One line each. A line that ends with a colon is a heading; one that ends with a question mark becomes a question.</span><textarea
					rows="6"
					bind:value={pasting}
					autofocus></textarea></label
			>
			<button class="act-quiet" onclick={paste} disabled={linesOfText(pasting).length === 0}
				>Make {linesOfText(pasting).length} {linesOfText(pasting).length === 1 ? 'line' : 'lines'}</button
			>
		</div>
	{/if}
</div>

<style>
	.add {
		align-items: start;
	}
	.add .line-kind {
		padding-top: 6px;
	}
</style>
