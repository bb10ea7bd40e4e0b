<script lang="ts">
	import { firmFacts } from '$lib/core/facts/fact-definition';
	import { ITEM_KINDS } from '$lib/core/items/item-kinds';
	import QuestionSheet from '../../asking/QuestionSheet.svelte';
	import type { SpecProps } from '../spec';

	let { line = $bindable(), place }: SpecProps<'questionnaire'> = $props();
	const from = $derived(line.spec.from);
	const chosen = $derived(place.questionnaires.find(({ id }) => id === from?.id));

	function choose(id: string) {
		const one = place.questionnaires.find((other) => other.id === id);
		if (one) {
			if (line.title.trim() === '' || line.title === from?.name) line.title = one.name;
			line.spec = { ...line.spec, questions: [], from: { id, name: one.name, version: one.version, before: null } };
		} else line.spec = ITEM_KINDS.questionnaire.empty(line.key.slice(0, 8));
	}
</script>

{#if place.questionnaires.length > 0}
	<label class="field mb-2 max-w-md"
		><span>Questions</span><select value={from?.id ?? ''} onchange={(event) => choose(event.currentTarget.value)}>
			<option value="">written here</option>
			{#if from && !chosen}<option value={from.id}>{from.name}, not in the Library any more</option>{/if}
			{#each place.questionnaires as one (one.id)}<option value={one.id}
					>{one.name}, {one.questions === 1 ? 'one question' : `${one.questions} questions`}</option
				>{/each}
		</select></label
	>
{/if}
{#if from}
	<p class="text-sm text-(--half)">
		{#if chosen}What the Library has when this is sent goes out, without what does not concern the client. Now that is version {chosen.version}.
			<a class="act-link" href="/desk/library/questionnaires/{from.id}" target="_blank">Open it</a>
		{:else}It cannot be sent like this. Choose another one, or write the questions here.{/if}
	</p>
{:else}
	<QuestionSheet
		bind:questions={line.spec.questions}
		facts={firmFacts(place.facts)}
		currency={place.currency}
		services={place.services}
		staff={place.staff}
		lists={place.lists}
	/>
	<label class="mt-2 flex items-center gap-2 text-sm"><input type="checkbox" bind:checked={line.spec.files} /> files may be added</label>
	<label class="mt-1 flex items-center gap-2 text-sm"
		><input type="checkbox" bind:checked={line.spec.signed} /> whoever is asked signs the answers; they are sealed like a letter</label
	>
{/if}
