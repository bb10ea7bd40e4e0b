<script lang="ts">
	import { openStatementLines } from '$lib/core/transactions/statement-line-answers';
	import { amountWords } from '$lib/words/amounts';
	import { dateWords } from '$lib/words/dates';
	import type { FillInProps } from '../fill-in';

	/** One line after the other; what was said of one is kept. */
	let { item }: FillInProps<'transactions'> = $props();
	const openNow = $derived(openStatementLines(item.spec.lines, item.answerData, item.papers));
	let pick = $state('words');
</script>

<label class="field"
	><span>Line</span><select name="lineId"
		>{#each openNow as line (line.id)}<option value={line.id}
				>{dateWords('en', line.day, 'short')}, {line.who || line.words}, {amountWords('en', line.amount, line.currency)}</option
			>{/each}</select
	></label
>
<div class="grid gap-3 sm:grid-cols-2">
	<label class="field"
		><span>They say</span><select name="pick" bind:value={pick}
			>{#each item.spec.choices as choice (choice)}<option value="choice:{choice}">{choice}</option>{/each}<option value="words">in words</option
			><option value="personal">it was personal</option><option value="unknown">they do not know</option>{#if item.spec.asks === 'paper'}<option
					value="no_paper">there is no paper</option
				>{/if}</select
		></label
	>
	{#if !pick.startsWith('choice:')}<label class="field"><span>Words</span><input name="words" maxlength="2000" /></label>{/if}
</div>
