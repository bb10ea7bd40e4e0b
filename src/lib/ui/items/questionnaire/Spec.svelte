<script lang="ts">
	import AnswerSpecFields from '../../asking/AnswerSpecFields.svelte';
	import type { SpecProps } from '../spec';

	let { line = $bindable(), place }: SpecProps<'questionnaire'> = $props();
	const questionnaire = $derived(line.spec);
</script>

<ol class="space-y-3">
	{#each questionnaire.questions as q, i (q.key)}
		<li class="border-l-2 border-(--rule-strong) pl-3">
			<div class="flex flex-wrap items-end gap-2">
				<label class="field min-w-60 flex-1"><span>Question {i + 1}</span><input bind:value={q.title} maxlength="200" /></label>
				<label class="flex items-center gap-1.5 pb-2 text-sm"><input type="checkbox" bind:checked={q.required} /> needed</label>
				{#if questionnaire.questions.length > 1}<button
						type="button"
						class="act-link pb-2 text-sm"
						aria-label="Remove question {i + 1}"
						onclick={() => questionnaire.questions.splice(i, 1)}>Remove</button
					>{/if}
			</div>
			<div class="mt-1"><AnswerSpecFields bind:answer={q.answer} currency={place.currency} /></div>
		</li>
	{/each}
</ol>
<button
	type="button"
	class="act-link mt-2 text-sm"
	onclick={() =>
		questionnaire.questions.push({
			key: crypto.randomUUID().slice(0, 8),
			title: '',
			help: '',
			required: true,
			answer: { is: 'words' },
			fact: null
		})}>Add a question</button
>
<label class="mt-2 flex items-center gap-2 text-sm"><input type="checkbox" bind:checked={questionnaire.files} /> files may be added</label>
