<script lang="ts">
	import type { FactColumn } from '$lib/core/facts/fact-definition';
	import { freshAnswer } from '$lib/core/items/questions-of-text';
	import { ANSWER_KINDS, ANSWER_WORDS, type AnswerKind, type AnswerSpec } from '$lib/core/items/questions';
	import { SLOT_TYPES } from '$lib/core/items/slots';
	import ColumnsFields from '../library/ColumnsFields.svelte';

	/** How a question is answered. */
	let {
		answer = $bindable(),
		currency,
		files = true
	}: { answer: AnswerSpec; currency: string; /** may be answered with files */ files?: boolean } = $props();
	const id = $props.id();
</script>

<div class="flex flex-wrap gap-3">
	<div class="field">
		<label class="field-label" for="{id}-kind">Answered</label>
		<select
			id="{id}-kind"
			value={answer.is}
			aria-describedby="{id}-about"
			onchange={(event) => (answer = freshAnswer(event.currentTarget.value as AnswerKind, currency, answer))}
		>
			{#each ANSWER_KINDS.filter((is) => files || is !== 'file') as is (is)}<option value={is}>{ANSWER_WORDS[is].words}</option>{/each}
		</select>
		<p id="{id}-about" class="mt-1 max-w-64 text-[0.8rem] text-(--half)">{ANSWER_WORDS[answer.is].about}</p>
	</div>
	{#if answer.is === 'number'}
		<label class="field"><span>Unit, if any</span><input class="!w-28" bind:value={answer.unit} maxlength="30" placeholder="km, hours …" /></label>
	{:else if answer.is === 'money'}
		<label class="field"><span>Currency</span><input class="!w-20 uppercase" bind:value={answer.currency} maxlength="3" /></label>
	{:else if answer.is === 'one_of' || answer.is === 'several_of'}
		<label class="field min-w-52 flex-1" for="{id}-choices"
			><span>Choices, one a line</span><textarea
				id="{id}-choices"
				rows={Math.max(3, answer.choices.length + 1)}
				value={answer.choices.join('\n')}
				oninput={(event) => {
					if (answer.is === 'one_of' || answer.is === 'several_of') answer.choices = event.currentTarget.value.split('\n');
				}}></textarea></label
		>
		<label class="flex items-center gap-2 self-end text-sm"
			><input
				type="checkbox"
				checked={answer.other ?? false}
				onchange={(event) => {
					if (answer.is === 'one_of' || answer.is === 'several_of') answer.other = event.currentTarget.checked;
				}}
			/> one may write another</label
		>
	{:else if answer.is === 'file'}
		<label class="field"
			><span>Which file</span><select bind:value={answer.accepts}
				>{#each Object.entries(SLOT_TYPES) as [type, words] (type)}<option value={type}>{words}</option>{/each}</select
			></label
		>
	{:else if answer.is === 'table'}
		<div class="w-full">
			<ColumnsFields
				bind:columns={
					() => (answer.is === 'table' ? answer.columns : []),
					(columns: readonly FactColumn[]) => {
						if (answer.is === 'table') answer.columns = [...columns] as typeof answer.columns;
					}
				}
				{currency}
			/>
		</div>
	{/if}
</div>
