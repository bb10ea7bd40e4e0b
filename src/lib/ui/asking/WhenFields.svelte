<script lang="ts">
	import { factKindOfAnswer } from '$lib/core/items/comparable';
	import type { Question } from '$lib/core/items/questions';
	import { counts, needsValue, testsOf, testWords, type FactTest } from '$lib/core/requests/conditions';

	/** How the question above must be answered so that a follow-up is asked. */
	let { question = $bindable(), above }: { question: Question; above: Question } = $props();
	const is = $derived(factKindOfAnswer(above.answer));
	const tests = $derived(testsOf(is).filter(needsValue));
	const choices = $derived(
		is.kind === 'yes_no' ? ['yes', 'no'] : is.kind === 'choice' || is.kind === 'several' ? is.choices.map(({ words }) => words) : null
	);
	function choose(test: string) {
		if (test === '') question.when = undefined;
		else
			question.when = {
				is: test as FactTest,
				value: counts(test as FactTest) ? '1' : (choices?.[0] ?? ''),
				...(test === 'between' ? { to: '' } : {})
			};
	}
</script>

<div class="flex flex-wrap items-center gap-1.5 text-sm">
	<span>Asked if “{above.title}”</span>
	<select
		class="line-input !w-auto text-sm"
		aria-label="How it is answered"
		value={question.when?.is ?? ''}
		onchange={(event) => choose(event.currentTarget.value)}
	>
		<option value="">is answered</option>
		{#each tests as test (test)}<option value={test}>{testWords(test)}</option>{/each}
	</select>
	{#if question.when}
		{#if choices && !counts(question.when.is)}
			<select class="line-input !w-auto text-sm" aria-label="The answer" bind:value={question.when.value}>
				{#each choices as choice, i (i)}<option value={choice}>{choice}</option>{/each}
			</select>
		{:else}
			<input
				class="line-input !w-36 text-sm"
				aria-label="The answer"
				type={is.kind === 'date' && !counts(question.when.is) ? 'date' : 'text'}
				bind:value={question.when.value}
			/>
			{#if question.when.is === 'between'}and <input
					class="line-input !w-36 text-sm"
					aria-label="And"
					type={is.kind === 'date' ? 'date' : 'text'}
					bind:value={question.when.to}
				/>{/if}
		{/if}
	{/if}
</div>
