<script lang="ts">
	import AnswerForm from '../../questionnaires/AnswerForm.svelte';
	import type { AnswerProps } from '../answer';

	let props: AnswerProps<'questionnaire'> = $props();
</script>

<AnswerForm {...props} />
