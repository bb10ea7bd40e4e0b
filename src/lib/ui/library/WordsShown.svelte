<script lang="ts">
	import { mergeFieldWords } from '$lib/core/letters/merge-fields';

	/** Words of the Library as they stand, fields as chips. */
	let { subject, body }: { subject: string; body: string } = $props();
	const parts = (words: string) => words.split(/\{([a-z_]+)\}/);
</script>

{#snippet words(text: string)}{#each parts(text) as part, i (i)}{#if i % 2 === 1}<span class="merge-chip">{mergeFieldWords(part)}</span
			>{:else}{part}{/if}{/each}{/snippet}

<div class="border border-(--rule-strong) bg-(--sheet) px-4 py-3">
	{#if subject}<p class="mb-2 border-b border-(--rule) pb-2"><b>{@render words(subject)}</b></p>{/if}
	<p class="whitespace-pre-wrap">{@render words(body)}</p>
</div>
