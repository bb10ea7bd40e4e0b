<script lang="ts">
	import type { FirmFacts } from '$lib/core/facts/fact-definition';
	import { ENDS_MAX, type End } from '$lib/core/items/brings';
	import type { Question } from '$lib/core/items/questions';
	import { firstWhen } from '$lib/core/questionnaires/sheet-moves';
	import { firstCondition, type Condition } from '$lib/core/requests/conditions';
	import type { WritingPlace } from '$lib/core/requests/writing-place';
	import BringWhat from './BringWhat.svelte';
	import ConditionEditor from './ConditionEditor.svelte';

	/** What all answers together bring about at the firm once they are accepted. */
	let {
		ends = $bindable(),
		questions,
		facts,
		staff,
		lists,
		services
	}: {
		ends: End[];
		questions: readonly Question[];
		facts: FirmFacts;
		staff: readonly { id: string; name: string }[];
		lists: WritingPlace['lists'];
		services: readonly string[];
	} = $props();
	const earlier = $derived(questions.map((question, i) => ({ ...question, number: i + 1 })));

	function add() {
		ends.push({ key: crypto.randomUUID().slice(0, 8), what: { does: 'task', words: '', staffId: null } });
	}
	/** A condition begins with the last answer, if there is one. */
	function begin(): Condition {
		const last = questions.at(-1);
		return last ? { kind: 'answer', question: last.key, ...(firstWhen(last) ?? { is: 'known', value: '' }) } : firstCondition(facts);
	}
</script>

<ul class="space-y-3">
	{#each ends as end, i (end.key)}
		<li class="border-b border-(--rule) pb-2 text-sm">
			<div class="flex flex-wrap items-center gap-1.5">
				<BringWhat bind:what={end.what} of="at the end, {i + 1}" {staff} {lists} {services} />
				{#if !end.condition}<button type="button" class="act-link" aria-label="Only if, at the end, {i + 1}" onclick={() => (end.condition = begin())}
						>Only if …</button
					>{/if}
				<button type="button" class="act-link" aria-label="Take out, at the end, {i + 1}" onclick={() => ends.splice(i, 1)}>take out</button>
			</div>
			{#if end.condition}
				<p class="mt-1 text-(--half)">Only if</p>
				<ConditionEditor
					bind:condition={() => end.condition!, (condition) => (end.condition = condition)}
					services={[...services]}
					{facts}
					{earlier}
				/>
				<button type="button" class="act-link" aria-label="Always, at the end, {i + 1}" onclick={() => (end.condition = undefined)}>Always</button>
			{/if}
		</li>
	{/each}
</ul>
{#if ends.length < ENDS_MAX}<button type="button" class="act-link mt-1 text-sm" onclick={add}
		>{ends.length > 0 ? 'Something else follows …' : 'Something follows at the firm …'}</button
	>{/if}
{#if ends.length > 0}<p class="text-xs text-(--half)">
		It happens once the answers are accepted, and is listed before. The client reads nothing of it.
	</p>{/if}
