<script lang="ts">
	import type { ItemSpec } from '$lib/core/requests/item-kinds';
	import type { ItemLine } from '$lib/server/requests/read-requests';
	import { enhancedForm, type FormHandling } from '../enhanced-form';
	import AnswerField from '../portal/AnswerField.svelte';

	/** Writes down what a client says by phone. */
	let { item, handling, pending, fields }: { item: ItemLine; handling: FormHandling; pending: boolean; fields: Record<string, string> } = $props();
	const question = $derived(item.spec as unknown as ItemSpec<'question'>);
	const questions = $derived((item.spec as unknown as ItemSpec<'questionnaire'>).questions ?? []);
</script>

<form method="post" action="/desk/items/{item.id}?/fillIn" class="notice-lamp space-y-3" novalidate {@attach enhancedForm(handling)}>
	<input type="hidden" name="version" value={item.version} />
	<p class="text-sm">What {item.contactName.split(' ')[0]} says. It is kept as written down by you.</p>
	{#if item.kind === 'question'}<AnswerField spec={question.answer} name="answer" label="Answer" locale="en" required wrong={fields.answer} />
	{:else if item.kind === 'questionnaire'}
		{#each questions as q (q.key)}<AnswerField
				spec={q.answer}
				name={q.key}
				label={q.title}
				locale="en"
				required={q.required}
				wrong={fields[q.key]}
			/>{/each}
	{:else}<p class="text-sm">{item.kind === 'read' ? 'They have read it.' : 'They say that it is done.'}</p>{/if}
	<button class="act-quiet" disabled={pending}>Write it down</button>
</form>
