<script lang="ts">
	import { openWhileAskedBack, shutAnswers } from '$lib/core/items/answer-review';
	import type { Answers } from '$lib/core/items/questions';
	import { whichApply } from '$lib/core/items/which-apply';
	import AnswerField from '../../portal/AnswerField.svelte';
	import type { FillInProps } from '../fill-in';
	import { answersIn } from '../../questionnaires/answers-in';

	/** The questions as somebody of the firm asks them on the phone; follow-ups come with the answer above them. */
	let { item, fields }: FillInProps<'questionnaire'> = $props();
	/** of what was asked back only that is open */
	const open = $derived(
		openWhileAskedBack(item.spec.questions, item.review, item.answerData ?? {}, whichApply(item.spec.questions, item.answerData ?? {}, null, ''))
	);
	const questions = $derived(item.spec.questions.filter(({ key }) => !item.withheld.includes(key)));
	const isShut = (key: string) => open !== null && !open.has(key);
	let box = $state<HTMLElement>();
	let given = $state<Answers>({});
	const applies = $derived(whichApply(questions, given, null, ''));

	function read() {
		const form = box?.closest('form');
		if (!form) return;
		given = { ...shutAnswers(item.answerData ?? {}, open), ...answersIn(form, questions) };
	}
</script>

<div bind:this={box} oninput={read} onchange={read} class="space-y-3">
	{#each questions as q (q.key)}
		<div
			hidden={applies.get(q.key) !== 'yes' || isShut(q.key)}
			inert={isShut(q.key)}
			class={q.under === undefined ? '' : 'border-l-2 border-(--lamp-deep) pl-3'}
		>
			{#if q.part}<h3 class="pt-2 text-[0.95rem]">{q.part}</h3>{/if}
			{#if q.answer.is === 'file'}
				<p class="field-label !text-[0.92rem]">{q.title}</p>
				<p class="text-[0.84rem] text-(--half)">
					{item.papers.some(({ slot }) => slot === q.key)
						? 'They have added it.'
						: 'A file: only they can add it. Ask it back afterwards if it is needed.'}
				</p>
			{:else}<AnswerField spec={q.answer} name={q.key} label={q.title} locale="en" required={q.required} wrong={fields[q.key]} />{/if}
			{#if q.condition}<p class="text-[0.8rem] text-(--half)">Asked of some clients only; where it does not fit, leave it empty.</p>{/if}
		</div>
	{/each}
</div>
