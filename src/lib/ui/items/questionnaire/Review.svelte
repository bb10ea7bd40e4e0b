<script lang="ts">
	import { answerInWords } from '$lib/core/items/answers';
	import { answerReader } from '$lib/words/answers';
	import type { ReviewProps } from '../review';
	import WordsReview from '../WordsReview.svelte';

	let { item, leaf, timeZone, answered }: ReviewProps<'questionnaire'> = $props();
	const answers = $derived(item.answerData);
</script>

{#if answered && answers}
	<dl class="facts">
		{#each item.spec.questions as question (question.key)}<div>
				<dt>{question.title}</dt>
				<dd class="break-words whitespace-pre-wrap">
					{#if question.key in answers}{answerInWords(question.answer, answers[question.key], answerReader('en'))}{:else}<span class="text-(--half)"
							>no answer</span
						>{/if}
				</dd>
			</div>{/each}
	</dl>
{:else}<WordsReview {item} {leaf} {timeZone} {answered} />{/if}
