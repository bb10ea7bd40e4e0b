<script lang="ts">
	import { STATEMENT_LINE_QUESTION_WORDS, STATEMENT_LINE_QUESTIONS } from '$lib/core/transactions/statement-line-questions';
	import { amountWords } from '$lib/words/amounts';
	import { dateWords } from '$lib/words/dates';
	import type { SpecProps } from '../spec';

	let { line = $bindable() }: SpecProps<'transactions'> = $props();
	const transactions = $derived(line.spec);
</script>

<div class="grid gap-3 sm:grid-cols-2">
	<label class="field"
		><span>What is wanted for each line</span><select bind:value={transactions.asks}
			>{#each STATEMENT_LINE_QUESTIONS as asks (asks)}<option value={asks}>{STATEMENT_LINE_QUESTION_WORDS[asks]}</option>{/each}</select
		></label
	>
	<label class="field"
		><span>Choices besides words, one a line; none is possible</span><textarea
			rows="4"
			value={transactions.choices.join('\n')}
			oninput={(event) =>
				(transactions.choices = event.currentTarget.value
					.split('\n')
					.map((choice) => choice.trim())
					.filter(Boolean))}></textarea></label
	>
</div>
<ul class="mt-2 max-h-80 overflow-y-auto border-t border-(--rule-strong) text-sm" aria-label="Lines asked about">
	{#each transactions.lines as one (one.id)}<li class="flex items-baseline gap-3 border-b border-(--rule) py-1">
			<span class="w-24 whitespace-nowrap text-(--half)">{dateWords('en', one.day, 'withYear')}</span>
			<span class="min-w-0 flex-1 truncate">{one.who || one.words}</span>
			<span class="whitespace-nowrap tabular-nums">{one.amount.startsWith('-') ? '−' : ''}{amountWords('en', one.amount, one.currency)}</span>
			{#if transactions.lines.length > 1}<button
					type="button"
					class="act-link"
					aria-label="Remove {one.who || one.words} of {one.day}"
					onclick={() => (transactions.lines = transactions.lines.filter((other) => other.id !== one.id))}>Remove</button
				>{/if}
		</li>{/each}
</ul>
