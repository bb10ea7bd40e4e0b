<script lang="ts">
	import AnswerField from '../../portal/AnswerField.svelte';
	import type { FillInProps } from '../fill-in';

	let { item, fields }: FillInProps<'questionnaire'> = $props();
</script>

{#each item.spec.questions as q (q.key)}<AnswerField
		spec={q.answer}
		name={q.key}
		label={q.title}
		locale="en"
		required={q.required}
		wrong={fields[q.key]}
	/>{/each}
