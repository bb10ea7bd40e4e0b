<script lang="ts">
	import type { Question } from '$lib/core/items/questions';
	import AnswerTest from './AnswerTest.svelte';

	/** How the question above must be answered so that a follow-up is asked. */
	let { question = $bindable(), above }: { question: Question; above: Question } = $props();
</script>

<div class="flex flex-wrap items-center gap-1.5 text-sm">
	<span>Asked if “{above.title}”</span>
	<AnswerTest bind:test={question.when} answer={above.answer} />
</div>
