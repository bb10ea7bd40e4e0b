<script lang="ts">
	import { FACTS } from '$lib/core/clients/facts';
	import { answerOfFact, ASKABLE_FACTS } from '$lib/core/items/questions';
	import AnswerSpecFields from '../../asking/AnswerSpecFields.svelte';
	import type { SpecProps } from '../spec';

	let { line = $bindable(), currency }: SpecProps<'question'> = $props();
	const question = $derived(line.spec);
</script>

<div class="flex flex-wrap gap-3">
	{#if question.fact}
		<p class="field-label self-end pb-2">Answered as “{FACTS[question.fact].label}” is written down.</p>
	{:else}<AnswerSpecFields bind:answer={question.answer} {currency} />{/if}
	<label class="field"
		><span>Kept as a fact, and never asked again</span><select
			value={question.fact ?? ''}
			onchange={(event) => {
				question.fact = (event.currentTarget.value || null) as typeof question.fact;
				if (question.fact) question.answer = answerOfFact(question.fact);
			}}
		>
			<option value="">no, only an answer</option>
			{#each ASKABLE_FACTS as name (name)}<option value={name}>{FACTS[name].label}</option>{/each}
		</select></label
	>
</div>
