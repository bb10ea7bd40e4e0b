<script lang="ts">
	import { sayer } from '$lib/words/words';
	import ConfirmButton from '../ConfirmButton.svelte';
	import type { AnswerProps } from '../answer';

	let { item, open, locale, handling, pending }: AnswerProps<'read'> = $props();
	const say = $derived(sayer(locale));
	const { link } = $derived(item.spec);
</script>

{#if link}<p class="mt-3">
		<a class="act-link" href={link} target="_blank" rel="noopener noreferrer external">{say('item.read.link')}: {new URL(link).hostname}</a>
	</p>{/if}
{#if open}<ConfirmButton words={say('item.read.confirm')} {handling} {pending} />{/if}
