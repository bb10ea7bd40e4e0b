<script lang="ts">
	import { sayer } from '$lib/words/words';
	import ConfirmButton from '../ConfirmButton.svelte';
	import type { AnswerProps } from '../answer';

	let { open, locale, handling, pending }: AnswerProps<'do'> = $props();
	const say = $derived(sayer(locale));
</script>

{#if open}<ConfirmButton words={say('item.do.confirm')} {handling} {pending} />{/if}
