<script lang="ts">
	import { ANSWER_WORDS, type AnswerKind, type AnswerSpec } from '$lib/core/items/questions';

	/** How a question is answered. */
	let { answer = $bindable(), currency }: { answer: AnswerSpec; currency: string } = $props();
	const id = $props.id();
	const fresh = (is: AnswerKind): AnswerSpec => {
		const choices = 'choices' in answer ? answer.choices : ['', ''];
		return is === 'number' ? { is, unit: '' } : is === 'money' ? { is, currency } : is === 'one_of' || is === 'several_of' ? { is, choices } : { is };
	};
</script>

<div class="flex flex-wrap gap-3">
	<label class="field"
		><span>Answered</span><select value={answer.is} onchange={(event) => (answer = fresh(event.currentTarget.value as AnswerKind))}>
			{#each Object.entries(ANSWER_WORDS) as [is, words] (is)}<option value={is}>{words}</option>{/each}
		</select></label
	>
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
	{/if}
</div>
