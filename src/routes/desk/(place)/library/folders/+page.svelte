<script lang="ts">
	import { untrack } from 'svelte';
	import { may } from '$lib/core/people/roles';
	import { CLIENT_MAY, CLIENT_MAY_WORDS, type ClientMay } from '$lib/core/papers/folders';
	import { KEEP_YEARS } from '$lib/core/papers/retention';
	import { enhancedForm } from '$lib/ui/forms/enhanced-form';
	import LibraryShelves from '$lib/ui/library/LibraryShelves.svelte';

	let { data } = $props();
	interface Row {
		key: number;
		name: string;
		clientMay: ClientMay;
		services: string[];
		keepYears: number | null;
	}
	let count = 0;
	const rowsOf = (folders: readonly Omit<Row, 'key'>[]): Row[] =>
		folders.map((folder) => ({ ...folder, services: [...folder.services], key: count++ }));
	let rows = $state<Row[]>(untrack(() => rowsOf(data.folders)));
	let problem = $state('');
	let saved = $state(false);
	let pending = $state(false);
	/** when papers end is the administrators’ to say */
	const mayEnd = $derived(may(data.person.role, 'set_up_firm'));
	const mayChange = $derived(may(data.person.role, 'keep_library'));
	const changed = () => (saved = false);
	/** the field of a row that was just added is typed into at once */
	let typeInto = $state<number | null>(null);
	const focusIt = (key: number) => (field: HTMLInputElement) => {
		if (untrack(() => typeInto) === key) field.focus();
	};
	function add() {
		changed();
		const row = { key: count++, name: '', clientMay: 'see' as const, services: [], keepYears: null };
		typeInto = row.key;
		rows.push(row);
	}
	function move(index: number, by: number) {
		changed();
		const [row] = rows.splice(index, 1);
		rows.splice(index + by, 0, row);
	}
</script>

<svelte:head><title>Folders · {data.firm.name}</title></svelte:head>

<main id="sheet" class="sheet choosing" tabindex="-1">
	<div class="masthead">
		<h1 class="text-[1.65rem] leading-tight">Library</h1>
		<LibraryShelves at="folders" />
		<p class="mt-2 max-w-[44rem] text-[0.88rem] text-(--half)">
			The folders that the papers of each client are proposed, in this order. One comes into being at a client with the first paper in it; from then
			on it is changed there. What you change here holds for those that come into being later.
		</p>
		{#if problem}<p class="notice-wrong mt-2" role="alert">{problem}</p>{/if}
	</div>
	<ul class="pl-4 md:pl-[104px]">
		{#each rows as row, index (row.key)}
			<li class="row">
				<input
					class="line-input"
					bind:value={row.name}
					oninput={changed}
					maxlength="60"
					placeholder="name of the folder"
					aria-label="Name of folder {index + 1}"
					disabled={!mayChange}
					{@attach focusIt(row.key)}
				/>
				<select
					class="line-input"
					bind:value={row.clientMay}
					onchange={changed}
					aria-label="What the client may do in {row.name || `folder ${index + 1}`}"
					disabled={!mayChange}
					>{#each CLIENT_MAY as one (one)}<option value={one}>{CLIENT_MAY_WORDS[one]}</option>{/each}</select
				>
				<select
					class="line-input"
					bind:value={row.keepYears}
					onchange={changed}
					aria-label="How long papers in {row.name || `folder ${index + 1}`} are kept"
					disabled={!mayEnd}
					><option value={null}>kept as others</option>{#each KEEP_YEARS as years (years)}<option value={years}
							>kept {years === 1 ? 'one year' : `${years} years`}</option
						>{/each}</select
				>
				<details class="text-sm">
					<summary class="cursor-pointer"
						>{row.services.length === 0
							? 'for all clients'
							: data.services
									.filter(({ id }) => row.services.includes(id))
									.map(({ name }) => name)
									.join(', ')}</summary
					>
					{#each data.services as service (service.id)}<label class="mr-3 inline-block"
							><input type="checkbox" value={service.id} bind:group={row.services} onchange={changed} disabled={!mayChange} />
							{service.name}</label
						>{/each}
				</details>
				{#if mayChange}<span class="flex gap-2 justify-self-end whitespace-nowrap">
						<button class="act-link arrow" disabled={index === 0} onclick={() => move(index, -1)} aria-label="Move {row.name} up">↑</button>
						<button class="act-link arrow" disabled={index === rows.length - 1} onclick={() => move(index, 1)} aria-label="Move {row.name} down"
							>↓</button
						>
						<button
							class="act-link"
							onclick={() => {
								changed();
								rows.splice(index, 1);
							}}
							aria-label="Remove {row.name || `folder ${index + 1}`}">Remove</button
						>
					</span>{/if}
			</li>
		{/each}
	</ul>
	{#if mayChange}
		<form
			method="post"
			action="?/save"
			class="flex flex-wrap items-center gap-3 py-3 pr-4 pl-4 md:pl-[104px]"
			{@attach enhancedForm({
				onPending: (begins) => (pending = begins),
				onProblem: (what) => {
					problem = what.message;
					saved = false;
				},
				onSuccess: () => {
					problem = '';
					saved = true;
				}
			})}
		>
			<input
				type="hidden"
				name="folders"
				value={JSON.stringify(rows.map(({ name, clientMay, services, keepYears }) => ({ name, clientMay, services, keepYears })))}
			/>
			<button type="button" class="act-quiet" onclick={add}>Add a folder</button>
			{#if rows.length === 0}<button
					type="button"
					class="act-quiet"
					onclick={() => {
						changed();
						rows = rowsOf(data.first);
					}}>Begin with the usual ones</button
				>{/if}
			<button class="act" disabled={pending}>Save</button>
			{#if saved}<span role="status" class="text-sm text-(--half)">Saved.</span>{/if}
		</form>
	{/if}
</main>

<style>
	.row {
		display: grid;
		grid-template-columns: minmax(0, 12rem) minmax(0, 1.3fr) minmax(0, 0.8fr) minmax(0, 1fr) auto;
		align-items: center;
		gap: 14px;
		padding: 5px 18px 5px 0;
		border-bottom: 1px solid var(--rule);
	}
	.arrow {
		min-width: 26px;
		min-height: 26px;
	}
	@media (max-width: 800px) {
		.row {
			grid-template-columns: minmax(0, 1fr);
			gap: 4px;
		}
	}
</style>
