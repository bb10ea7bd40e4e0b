<script lang="ts">
	import AnswerField from '../../portal/AnswerField.svelte';
	import type { FillInProps } from '../fill-in';

	let { item, fields }: FillInProps<'question'> = $props();
</script>

<AnswerField spec={item.spec.answer} name="answer" label="Answer" locale="en" required wrong={fields.answer} />
