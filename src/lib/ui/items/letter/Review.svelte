<script lang="ts">
	import { timeWords } from '$lib/words/dates';
	import LetterText from '../../letters/LetterText.svelte';
	import type { ReviewProps } from '../review';

	let { item, leaf, timeZone }: ReviewProps<'letter'> = $props();
</script>

{#if item.letter}
	{#if item.letter.state === 'sealed'}
		<p class="text-sm">Signed by both sides and sealed {timeWords('en', item.letter.sealedAt!, timeZone)}.</p>
		<a class="act" href="/desk/letters/{item.id}?download" download>Download the sealed PDF</a>
	{:else}
		<details class="border border-(--rule-strong) bg-(--sheet)">
			<summary class="cursor-pointer px-4 py-2 text-sm"
				>Read the letter, {item.letter.pages === 1 ? 'one page' : `${item.letter.pages} pages`}</summary
			>
			<div class="max-h-96 overflow-auto px-5 pb-3">
				{#if leaf.document}<LetterText document={leaf.document} />{/if}
			</div>
		</details>
		<a class="act-link text-sm" href="/desk/letters/{item.id}?download" download>Download as PDF, without signatures</a>
	{/if}
{/if}
