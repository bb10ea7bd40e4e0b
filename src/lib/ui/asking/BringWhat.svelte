<script lang="ts">
	import { BRING_WORDS, type Bring } from '$lib/core/items/brings';
	import type { WritingPlace } from '$lib/core/requests/writing-place';

	/** What is brought about: a task for somebody, mail to somebody, a draft from a list, a service to propose. */
	let {
		what = $bindable(),
		of,
		staff,
		lists,
		services
	}: {
		what: Bring['what'];
		/** which of several it is, for whoever hears the page: “for 1” */ of: string;
		staff: readonly { id: string; name: string }[];
		lists: WritingPlace['lists'];
		services: readonly string[];
	} = $props();
	type Does = Bring['what']['does'];
	const DOES = $derived(
		(Object.keys(BRING_WORDS) as Does[]).filter((does) => (does === 'list' ? lists.length > 0 : does === 'service' ? services.length > 0 : true))
	);
	const lines = $derived(what.does === 'list' ? (lists.find(({ id }) => what.does === 'list' && id === what.listId)?.lines ?? []) : []);

	function fresh(does: Does): Bring['what'] {
		if (does === 'task' || does === 'tell') return { does, words: '', staffId: null };
		return does === 'list' ? { does, listId: lists[0].id } : { does, name: services[0] };
	}
</script>

<select
	class="line-input !w-auto text-sm"
	aria-label="What follows, {of}"
	value={what.does}
	onchange={(event) => (what = fresh(event.currentTarget.value as Does))}
>
	{#each DOES as does (does)}<option value={does}>{BRING_WORDS[does]}</option>{/each}
</select>
{#if what.does === 'task' || what.does === 'tell'}
	<select class="line-input !w-auto text-sm" aria-label="Who, {of}" bind:value={what.staffId}>
		<option value={null}>whoever looks after the client</option>
		{#each staff as person (person.id)}<option value={person.id}>{person.name}</option>{/each}
	</select>
	<input
		class="line-input min-w-48 flex-1 text-sm"
		aria-label="{what.does === 'task' ? 'What is to be done' : 'Words to them'}, {of}"
		placeholder={what.does === 'task' ? 'what is to be done' : 'words to them, if any'}
		maxlength={what.does === 'task' ? 200 : 400}
		bind:value={what.words}
	/>
{:else if what.does === 'list'}
	<select
		class="line-input !w-auto max-w-60 text-sm"
		aria-label="Which list, {of}"
		value={what.listId}
		onchange={(event) => (what = { does: 'list', listId: event.currentTarget.value })}
	>
		{#each lists as list (list.id)}<option value={list.id}>{list.name}</option>{/each}
	</select>
	<select class="line-input !w-auto max-w-60 text-sm" aria-label="Which lines of it, {of}" bind:value={what.line}>
		<option value={undefined}>all of it</option>
		{#each lines as line (line.key)}<option value={line.key}>only “{line.title}”</option>{/each}
	</select>
{:else}
	<select class="line-input !w-auto text-sm" aria-label="Which service, {of}" bind:value={what.name}>
		{#each services as service (service)}<option value={service}>{service}</option>{/each}
	</select>
{/if}
