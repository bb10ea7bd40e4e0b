<script lang="ts">
	import { answerInWords } from '$lib/core/items/answers';
	import { ANSWER } from '$lib/core/requests/typed';
	import { answerReader } from '$lib/words/answers';
	import { sayer } from '$lib/words/words';
	import { enhancedForm } from '../../forms/enhanced-form';
	import AnswerField from '../../portal/AnswerField.svelte';
	import Given from '../Given.svelte';
	import type { AnswerProps } from '../answer';

	let { item, open, locale, handling, pending, keeping, typed, fields }: AnswerProps<'question'> = $props();
	const say = $derived(sayer(locale));
	const { answer } = $derived(item.spec);
	const label = $derived.by(() => {
		switch (answer.is) {
			case 'words':
			case 'money':
				return say('item.question.label');
			case 'number':
				return say('item.number', { unit: answer.unit || 'none' });
			case 'date':
				return say('item.date');
			case 'several_of':
				return say('item.question.several');
			default:
				return say('item.question.choose');
		}
	});
</script>

{#if open}
	<form method="post" action="?/handIn" class="mt-4 space-y-3" {@attach enhancedForm(handling)} {@attach keeping(ANSWER)}>
		<AnswerField
			spec={answer}
			name="answer"
			{label}
			value={item.answerData}
			words={item.answer ?? ''}
			typed={typed(ANSWER + 'answer')}
			{locale}
			required
			wrong={fields.answer}
		/>
		<button class="act w-full" disabled={pending}>{say('item.question.handIn')}</button>
	</form>
{:else if item.answerData !== null}<Given
		label={say('item.question.given')}
		text={answerInWords(answer, item.answerData, answerReader(locale))}
	/>{/if}
