<script lang="ts">
	import { goto } from '$app/navigation';
	import { navigating, page } from '$app/state';
	import type { Act } from '$lib/core/people/roles';
	import { timeWords } from '$lib/words/dates';
	import ItemLeaf from '$lib/ui/desk/ItemLeaf.svelte';
	import { leafOf } from '$lib/ui/rounds/leaves';
	import { getRowsInOrder } from '$lib/ui/rounds/rows-in-order';

	let { data } = $props();
	const leaf = $derived(data.leaf);
	const rows = getRowsInOrder();
	/** whether the person may do something about what is open: what they may not do is not offered */
	const mine = (act: Act) => data.acts.includes(act);
	let problem = $state('');
	/** the address was doubted; it may be kept all the same */
	let doubted = $state(false);
	// the next row may be dealt with as soon as it is open, while the lists are still being read anew
	let pendingFor = $state<string | undefined>();
	const pending = $derived(pendingFor !== undefined && pendingFor === page.params.key);

	let actedOn: { key: string | undefined; next: string | undefined } | undefined;

	/** Remembers what is dealt with and what comes after it: the list may have moved on when the answer is here. */
	function remember() {
		const at = rows().findIndex((row) => row.key === page.params.key);
		actedOn = { key: page.params.key, next: (rows()[at + 1] ?? rows()[at - 1])?.key };
	}

	/** Opens the row after the one that was dealt with, unless the person has gone elsewhere meanwhile. */
	async function openNext() {
		if (navigating.to || (actedOn && actedOn.key !== page.params.key)) return;
		const next = actedOn?.next;
		await goto(next ? `/desk/rounds/${next}` : '/desk/rounds', { noScroll: true, invalidateAll: true });
	}
	function onPending(begins: boolean) {
		if (begins) {
			remember();
			problem = '';
			doubted = false;
			pendingFor = page.params.key;
		} else pendingFor = undefined;
	}
	function onProblem(p: { message: string; fields?: Record<string, string> }) {
		problem = p.message;
		doubted = p.fields?.anyway !== undefined;
	}
	const handling = { onPending, onProblem, onSuccess: openNext };
	const time = (at: string) => timeWords('en', at, data.firm.timeZone);
</script>

{#if leaf.kind === 'item'}
	<ItemLeaf {leaf} timeZone={data.firm.timeZone} person={data.person} next={openNext} begin={remember} />
{:else}
	{@const Open = leafOf(leaf)}
	<Open {leaf} {mine} {pending} {problem} {doubted} {handling} {time} {openNext} {remember} />
{/if}
