<script lang="ts">
	import { BRINGS_MAX, type Bring } from '$lib/core/items/brings';
	import type { Question } from '$lib/core/items/questions';
	import type { WritingPlace } from '$lib/core/requests/writing-place';
	import AnswerTest from './AnswerTest.svelte';
	import BringWhat from './BringWhat.svelte';

	/** What an answer brings about at the firm once it is accepted: tasks, mail to somebody, a draft, a service to propose. */
	let {
		brings = $bindable(),
		answer,
		staff,
		lists,
		services
	}: {
		brings: Bring[] | undefined;
		answer: Question['answer'];
		staff: readonly { id: string; name: string }[];
		lists: WritingPlace['lists'];
		services: readonly string[];
	} = $props();
	/** the first of the choices, with which a new one begins */
	const first = $derived(answer.is === 'yes_no' ? 'yes' : 'choices' in answer ? answer.choices[0] : undefined);
	function add() {
		const when: Bring['when'] = first === undefined ? undefined : { is: answer.is === 'several_of' ? 'contains' : 'equals', value: first };
		brings = [
			...(brings ?? []),
			{ key: crypto.randomUUID().slice(0, 8), ...(when ? { when } : {}), what: { does: 'task', words: '', staffId: null } }
		];
	}
	function remove(key: string) {
		const left = (brings ?? []).filter((bring) => bring.key !== key);
		brings = left.length > 0 ? left : undefined;
	}
</script>

{#if brings}
	<ul class="space-y-2">
		{#each brings as bring, i (bring.key)}
			<li class="flex flex-wrap items-center gap-1.5 text-sm">
				<span>If it</span>
				<AnswerTest bind:test={bring.when} {answer} label={(words) => `${words}, for ${i + 1}`} />
				<span aria-hidden="true">:</span>
				<BringWhat bind:what={bring.what} of="for {i + 1}" {staff} {lists} {services} />
				<button type="button" class="act-link text-sm" aria-label="Take out, {i + 1}" onclick={() => remove(bring.key)}>take out</button>
			</li>
		{/each}
	</ul>
{/if}
{#if (brings?.length ?? 0) < BRINGS_MAX}<button type="button" class="act-link text-sm" onclick={add}
		>{brings ? 'Something else follows …' : 'Something follows from it at the firm …'}</button
	>{/if}
{#if brings}<p class="text-xs text-(--half)">It happens once the answers are accepted, and is listed before. The client reads nothing of it.</p>{/if}
