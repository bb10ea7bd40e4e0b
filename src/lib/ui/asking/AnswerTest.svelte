<script lang="ts">
	import { factKindOfAnswer } from '$lib/core/items/comparable';
	import type { Bring } from '$lib/core/items/brings';
	import type { Question } from '$lib/core/items/questions';
	import { counts, needsValue, testsOf, testWords, type FactTest } from '$lib/core/requests/conditions';

	/** How a question must be answered so that something follows from it: in any way, or so. */
	let {
		test = $bindable(),
		answer,
		label = (words) => words
	}: {
		test: Bring['when'];
		/** of the question */ answer: Question['answer'];
		/** what a field is called, where several of these stand together */ label?: (words: string) => string;
	} = $props();
	const is = $derived(factKindOfAnswer(answer));
	const tests = $derived(testsOf(is).filter(needsValue));
	const choices = $derived(
		is.kind === 'yes_no' ? ['yes', 'no'] : is.kind === 'choice' || is.kind === 'several' ? is.choices.map(({ words }) => words) : null
	);
	function choose(chosen: string) {
		if (chosen === '') test = undefined;
		else
			test = {
				is: chosen as FactTest,
				value: counts(chosen as FactTest) ? '1' : (choices?.[0] ?? ''),
				...(chosen === 'between' ? { to: '' } : {})
			};
	}
</script>

<select
	class="line-input !w-auto text-sm"
	aria-label={label('How it is answered')}
	value={test?.is ?? ''}
	onchange={(event) => choose(event.currentTarget.value)}
>
	<option value="">is answered</option>
	{#each tests as one (one)}<option value={one}>{testWords(one)}</option>{/each}
</select>
{#if test}
	{#if choices && !counts(test.is)}
		<select class="line-input !w-auto text-sm" aria-label={label('The answer')} bind:value={test.value}>
			{#each choices as choice, i (i)}<option value={choice}>{choice}</option>{/each}
		</select>
	{:else}
		<input
			class="line-input !w-36 text-sm"
			aria-label={label('The answer')}
			type={is.kind === 'date' && !counts(test.is) ? 'date' : 'text'}
			bind:value={test.value}
		/>
		{#if test.is === 'between'}and <input
				class="line-input !w-36 text-sm"
				aria-label={label('And')}
				type={is.kind === 'date' ? 'date' : 'text'}
				bind:value={test.to}
			/>{/if}
	{/if}
{/if}
