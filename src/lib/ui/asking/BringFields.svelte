<script lang="ts">
	import { BRING_WORDS, BRINGS_MAX, type Bring } from '$lib/core/items/brings';
	import type { Question } from '$lib/core/items/questions';
	import AnswerTest from './AnswerTest.svelte';

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
		lists: readonly { id: string; name: string }[];
		services: readonly string[];
	} = $props();
	/** the first of the choices, with which a new one begins */
	const first = $derived(answer.is === 'yes_no' ? 'yes' : 'choices' in answer ? answer.choices[0] : undefined);
	type Does = Bring['what']['does'];
	const DOES = (Object.keys(BRING_WORDS) as Does[]).filter((does) =>
		does === 'list' ? lists.length > 0 : does === 'service' ? services.length > 0 : true
	);

	function fresh(does: Does): Bring['what'] {
		if (does === 'task') return { does, words: '', staffId: null };
		if (does === 'tell') return { does, words: '', staffId: null };
		return does === 'list' ? { does, listId: lists[0].id } : { does, name: services[0] };
	}
	function add() {
		const when: Bring['when'] = first === undefined ? undefined : { is: answer.is === 'several_of' ? 'contains' : 'equals', value: first };
		brings = [...(brings ?? []), { key: crypto.randomUUID().slice(0, 8), ...(when ? { when } : {}), what: fresh('task') }];
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
				<select
					class="line-input !w-auto text-sm"
					aria-label="What follows, {i + 1}"
					value={bring.what.does}
					onchange={(event) => (bring.what = fresh(event.currentTarget.value as Does))}
				>
					{#each DOES as does (does)}<option value={does}>{BRING_WORDS[does]}</option>{/each}
				</select>
				{#if bring.what.does === 'task' || bring.what.does === 'tell'}
					<select class="line-input !w-auto text-sm" aria-label="Who, for {i + 1}" bind:value={bring.what.staffId}>
						<option value={null}>whoever looks after the client</option>
						{#each staff as person (person.id)}<option value={person.id}>{person.name}</option>{/each}
					</select>
					<input
						class="line-input min-w-48 flex-1 text-sm"
						aria-label="{bring.what.does === 'task' ? 'What is to be done' : 'Words to them'}, for {i + 1}"
						placeholder={bring.what.does === 'task' ? 'what is to be done' : 'words to them, if any'}
						maxlength={bring.what.does === 'task' ? 200 : 400}
						bind:value={bring.what.words}
					/>
				{:else if bring.what.does === 'list'}
					<select class="line-input !w-auto text-sm" aria-label="Which list, for {i + 1}" bind:value={bring.what.listId}>
						{#each lists as list (list.id)}<option value={list.id}>{list.name}</option>{/each}
					</select>
				{:else}
					<select class="line-input !w-auto text-sm" aria-label="Which service, for {i + 1}" bind:value={bring.what.name}>
						{#each services as service (service)}<option value={service}>{service}</option>{/each}
					</select>
				{/if}
				<button type="button" class="act-link text-sm" aria-label="Take out, {i + 1}" onclick={() => remove(bring.key)}>take out</button>
			</li>
		{/each}
	</ul>
{/if}
{#if (brings?.length ?? 0) < BRINGS_MAX}<button type="button" class="act-link text-sm" onclick={add}
		>{brings ? 'Something else follows …' : 'Something follows from it at the firm …'}</button
	>{/if}
{#if brings}<p class="text-xs text-(--half)">It happens once the answers are accepted, and is listed before. The client reads nothing of it.</p>{/if}
