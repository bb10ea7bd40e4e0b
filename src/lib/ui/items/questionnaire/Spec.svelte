<script lang="ts">
	import { firmFacts } from '$lib/core/facts/fact-definition';
	import QuestionSheet from '../../asking/QuestionSheet.svelte';
	import type { SpecProps } from '../spec';

	let { line = $bindable(), place }: SpecProps<'questionnaire'> = $props();
</script>

<QuestionSheet bind:questions={line.spec.questions} facts={firmFacts(place.facts)} currency={place.currency} services={place.services} />
<label class="mt-2 flex items-center gap-2 text-sm"><input type="checkbox" bind:checked={line.spec.files} /> files may be added</label>
