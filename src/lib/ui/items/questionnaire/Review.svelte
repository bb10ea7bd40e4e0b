<script lang="ts">
	import { answerInWords } from '$lib/core/items/answers';
	import { whichApply } from '$lib/core/items/which-apply';
	import { phoneInWords } from '$lib/core/people/phone';
	import { answerReader } from '$lib/words/answers';
	import type { ReviewProps } from '../review';
	import WordsReview from '../WordsReview.svelte';

	let { item, leaf, timeZone, answered }: ReviewProps<'questionnaire'> = $props();
	const reader = answerReader('en', (number) => phoneInWords(number, ''));
	const answers = $derived(item.answerData);
	/** what was asked, by the answers; what was not answered and is asked of some clients alone may not have been */
	const asked = $derived.by(() => {
		const applies = whichApply(item.spec.questions, answers ?? {}, null, '');
		return item.spec.questions.filter(({ key, condition }) => applies.get(key) === 'yes' && (!condition || (answers && key in answers)));
	});
</script>

{#if answered && answers}
	<dl class="facts">
		{#each asked as question (question.key)}<div>
				<dt>{question.title}</dt>
				<dd class="break-words whitespace-pre-wrap">
					{#if question.key in answers}{answerInWords(question.answer, answers[question.key], reader)}{:else}<span class="text-(--half)"
							>no answer</span
						>{/if}
				</dd>
			</div>{/each}
	</dl>
{:else}<WordsReview {item} {leaf} {timeZone} {answered} />{/if}
