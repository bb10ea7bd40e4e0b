<script lang="ts">
	import PaperUpload from '../../papers/PaperUpload.svelte';
	import AddedFiles from '../AddedFiles.svelte';
	import type { AnswerProps } from '../answer';

	let { item, open, locale, home, onProblem }: AnswerProps<'paper'> = $props();
	const { slots } = $derived(item.spec);
	const missing = $derived(slots.filter((slot) => !item.papers.some((paper) => paper.slot === slot.name)));
</script>

{#if open}
	<PaperUpload
		itemId={item.id}
		title={item.title}
		papers={item.papers}
		{slots}
		missing={missing.map((slot) => slot.name)}
		{locale}
		{home}
		onProblem={(message) => onProblem({ message, fields: {} })}
	/>
{:else}<AddedFiles papers={item.papers} {home} {locale} />{/if}
