<script lang="ts">
	import { periodWords } from '$lib/words/dates';
	import type { Asking } from './asking.svelte';

	/** Adds the statements of past months that were never asked for. */
	let { today, asking }: { today: string; asking: Asking } = $props();
	/** The months whose statements are asked for afterwards, this one first: five years, as YYYY-MM. */
	const months = Array.from({ length: 61 }, (_, back) => {
		const month = Number(today.slice(0, 4)) * 12 + Number(today.slice(5, 7)) - 1 - back;
		return `${Math.floor(month / 12)}-${String((month % 12) + 1).padStart(2, '0')}`;
	});
	let to = $state(months[1]);
	let from = $state(`${months[1].slice(0, 4)}-01`);
	function add(event: SubmitEvent) {
		event.preventDefault();
		void asking.addStatements(from, to);
	}
</script>

{#snippet choosingMonth()}
	{#each months as month (month)}<option value={month}>{periodWords('en', { kind: 'month', from: `${month}-01` })}</option>{/each}
{/snippet}

<details class="mb-4 text-sm">
	<summary class="cursor-pointer text-(--half)">Statements of past months, by account …</summary>
	<form class="mt-2 flex flex-wrap items-end gap-2" onsubmit={add}>
		<label class="field"><span>From</span><select bind:value={from}>{@render choosingMonth()}</select></label>
		<label class="field"><span>to</span><select bind:value={to}>{@render choosingMonth()}</select></label>
		<button class="act-quiet">Add what was not asked yet</button>
	</form>
</details>
