<script lang="ts">
	import { firmFacts } from '$lib/core/facts/fact-definition';
	import { answerOfFact } from '$lib/core/items/questions';
	import AnswerSpecFields from '../../asking/AnswerSpecFields.svelte';
	import type { SpecProps } from '../spec';

	let { line = $bindable(), place }: SpecProps<'question'> = $props();
	const facts = $derived(firmFacts(place.facts));
	const question = $derived(line.spec);
</script>

<div class="flex flex-wrap gap-3">
	{#if question.fact}
		<p class="field-label self-end pb-2">Answered as “{facts.get(question.fact)?.label ?? question.fact}” is written down.</p>
	{:else}<AnswerSpecFields bind:answer={question.answer} currency={place.currency} files={false} />{/if}
	<label class="field"
		><span>Kept as a fact, and never asked again</span><select
			value={question.fact ?? ''}
			onchange={(event) => {
				question.fact = event.currentTarget.value || null;
				const fact = question.fact && facts.get(question.fact);
				if (fact) question.answer = answerOfFact(fact) ?? { is: 'words' };
			}}
		>
			<option value="">no, only an answer</option>
			{#each facts.asked as fact (fact.name)}{#if answerOfFact(fact)}<option value={fact.name}>{fact.label}</option>{/if}{/each}
		</select></label
	>
</div>
