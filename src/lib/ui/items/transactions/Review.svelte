<script lang="ts">
	import { givenAnswer, statementLineAnswerInWords, openStatementLines } from '$lib/core/transactions/statement-line-answers';
	import { amountWords } from '$lib/words/amounts';
	import { dateWords } from '$lib/words/dates';
	import type { ReviewProps } from '../review';

	/** Questions about transactions as the firm reads them: every line with its answer, as the answers come. */
	let { item }: ReviewProps<'transactions'> = $props();
	const { spec } = $derived(item);
	const answers = $derived(item.answerData ?? {});
	const files = (lineId: string) => item.papers.filter((paper) => paper.slot === lineId);
	const left = $derived(openStatementLines(spec.lines, answers, item.papers));
</script>

<div class="flex flex-wrap items-baseline justify-between gap-x-4 text-sm">
	<span class="text-(--half)"
		>{left.length === 0
			? `All ${spec.lines.length} lines are answered.`
			: `${spec.lines.length - left.length} of ${spec.lines.length} lines are answered.`}</span
	>
	<a class="act-link" href="/desk/items/{item.id}/answers" download>Download the answers as CSV</a>
</div>
<div class="mt-1 overflow-x-auto">
	<table class="w-full text-[0.88rem]">
		<thead class="sr-only"><tr><th>Day</th><th>Line</th><th>Amount</th><th>Answer</th></tr></thead>
		<tbody>
			{#each spec.lines as line (line.id)}
				{@const own = files(line.id)}
				{@const words = statementLineAnswerInWords(givenAnswer(answers, line.id), [])}
				<tr class="border-b border-(--rule) align-top">
					<td class="py-1.5 pr-3 whitespace-nowrap text-(--half)">{dateWords('en', line.day, 'short')}</td>
					<td class="py-1.5 pr-3 break-words"
						>{line.who || line.words}{#if line.who && line.words}<span class="block text-xs text-(--half)">{line.words}</span>{/if}</td
					>
					<td class="py-1.5 pr-3 text-right whitespace-nowrap tabular-nums"
						>{line.amount.startsWith('-') ? '−' : ''}{amountWords('en', line.amount, line.currency)}</td
					>
					<td class="w-2/5 py-1.5 break-words"
						>{#if words}<b class="font-semibold">{words}</b>{/if}{#each own as paper (paper.id)}<a
								class="act-link block"
								href="/desk/papers/{paper.id}?download"
								download>{paper.name}</a
							>{/each}{#if !words && own.length === 0}<span class="text-(--half)">open</span>{/if}</td
					>
				</tr>
			{/each}
		</tbody>
	</table>
</div>
