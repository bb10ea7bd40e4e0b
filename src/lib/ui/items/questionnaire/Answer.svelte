<script lang="ts">
	import { ANSWER } from '$lib/core/requests/typed';
	import { sayer } from '$lib/words/words';
	import { enhancedForm } from '../../forms/enhanced-form';
	import PaperUpload from '../../papers/PaperUpload.svelte';
	import AnswerField from '../../portal/AnswerField.svelte';
	import AddedFiles from '../AddedFiles.svelte';
	import type { AnswerProps } from '../answer';

	let { item, open, locale, home, handling, pending, keeping, typed, fields, onProblem }: AnswerProps<'questionnaire'> = $props();
	const say = $derived(sayer(locale));
	const { questions, files: withFiles } = $derived(item.spec);
	const answers = $derived(item.answerData ?? {});
	const answersId = $props.id();
</script>

<form
	method="post"
	id={answersId}
	action="?/handIn"
	class="mt-4 space-y-5"
	novalidate
	{@attach enhancedForm(handling)}
	{@attach keeping(ANSWER)}
	inert={!open}
>
	{#each questions as q (q.key)}
		<div>
			<AnswerField
				spec={q.answer}
				name={q.key}
				label="{q.title}{q.required ? '' : ` (${say('item.optional').toLowerCase()})`}"
				value={answers[q.key] ?? null}
				typed={typed(ANSWER + q.key)}
				{locale}
				required={q.required}
				wrong={fields[q.key]}
			/>
			{#if q.help}<p class="mt-1 text-[0.88rem] text-(--half)">{q.help}</p>{/if}
		</div>
	{/each}
	{#if open && !withFiles}
		<p class="text-sm text-(--half)">{say('item.questionnaire.kept')}</p>
		<button class="act w-full" disabled={pending}>{say('item.questionnaire.handIn')}</button>
	{/if}
</form>
{#if withFiles}
	{#if open}
		<h2 class="mt-6 text-[1.1rem]">{say('item.own.files')}</h2>
		<PaperUpload
			itemId={item.id}
			title={item.title}
			papers={item.papers}
			handsIn={false}
			{locale}
			{home}
			onProblem={(message) => onProblem({ message, fields: {} })}
		/>
		<p class="mt-4 text-sm text-(--half)">{say('item.questionnaire.kept')}</p>
		<button class="act mt-2 w-full" form={answersId} disabled={pending}>{say('item.questionnaire.handIn')}</button>
	{:else if item.papers.length > 0}<AddedFiles papers={item.papers} {home} {locale} />{/if}
{/if}
