<script lang="ts">
	import type { ItemSpec } from '$lib/core/requests/item-kinds';
	import type { ItemLine } from '$lib/server/requests/read-requests';
	import { openLines, type LineAnswers } from '$lib/core/transactions/line-answers';
	import { amountWords } from '$lib/words/amounts';
	import { dateWords } from '$lib/words/dates';
	import { enhancedForm, type FormHandling } from '../enhanced-form';
	import AnswerField from '../portal/AnswerField.svelte';

	/** Writes down what a client says by phone. */
	let { item, handling, pending, fields }: { item: ItemLine; handling: FormHandling; pending: boolean; fields: Record<string, string> } = $props();
	const question = $derived(item.spec as unknown as ItemSpec<'question'>);
	const lines = $derived(item.spec as unknown as ItemSpec<'transactions'>);
	const openNow = $derived(item.kind === 'transactions' ? openLines(lines.lines, item.answerData as LineAnswers | null, item.papers) : []);
	let pick = $state('words');
	const questions = $derived((item.spec as unknown as ItemSpec<'questionnaire'>).questions ?? []);
</script>

<form
	method="post"
	action="/desk/items/{item.id}?/{item.kind === 'transactions' ? 'fillInLine' : 'fillIn'}"
	class="notice-lamp space-y-3"
	novalidate
	{@attach enhancedForm(handling)}
>
	<input type="hidden" name="version" value={item.version} />
	<p class="text-sm">What {item.contactName.split(' ')[0]} says. It is saved as noted by you.</p>
	{#if item.kind === 'question'}<AnswerField spec={question.answer} name="answer" label="Answer" locale="en" required wrong={fields.answer} />
	{:else if item.kind === 'questionnaire'}
		{#each questions as q (q.key)}<AnswerField
				spec={q.answer}
				name={q.key}
				label={q.title}
				locale="en"
				required={q.required}
				wrong={fields[q.key]}
			/>{/each}
	{:else if item.kind === 'transactions'}
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
					>{#each lines.choices ?? [] as choice (choice)}<option value="choice:{choice}">{choice}</option>{/each}<option value="words"
						>in words</option
					><option value="personal">it was personal</option><option value="unknown">they do not know</option>{#if lines.asks === 'paper'}<option
							value="no_paper">there is no paper</option
						>{/if}</select
				></label
			>
			{#if !pick.startsWith('choice:')}<label class="field"><span>Words</span><input name="words" maxlength="2000" /></label>{/if}
		</div>
	{:else}<p class="text-sm">{item.kind === 'read' ? 'They have read it.' : 'They say that it is done.'}</p>{/if}
	<button class="act-quiet" disabled={pending}>Save the answer</button>
</form>
