<script lang="ts">
	import { dateWords, dayOf } from '$lib/words/dates';
	import { sayer } from '$lib/words/words';
	import AnswerForm from '../../questionnaires/AnswerForm.svelte';
	import type { AnswerProps } from '../answer';

	let props: AnswerProps<'questionnaire'> = $props();
	const { item, locale, home, open, reader } = $derived(props);
	const say = $derived(sayer(locale));
	// whoever is not asked themself is told the name of whoever is
	const signer = $derived(item.spec.signed ? { name: reader.isAsked ? reader.name : item.contactName, isReader: reader.isAsked } : null);
</script>

<AnswerForm {...props} {signer} />
{#if item.signed && !open}
	<p class="mt-3">
		{say('item.sign.done', { name: item.signed.name, date: dateWords(locale, dayOf(item.signed.at, props.brand.timeZone), 'long') })}
		{#if item.signed.sealed}<a class="act-link" href="{home}/item/{item.id}/pdf?signed" download>{say('item.sign.file')}</a>
		{:else}{say('item.sign.sealing')}{/if}
	</p>
{/if}
