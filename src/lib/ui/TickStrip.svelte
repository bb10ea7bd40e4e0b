<script lang="ts">
	import { ticksInWords, type Tick } from '$lib/core/requests/tick-strip';
	import TickMark from './TickMark.svelte';

	let { ticks }: { ticks: Tick[] } = $props();
	const SHOWN = 18;
	// what is settled is shortened first: what is still open must stay in sight
	const shown = $derived(ticks.length <= SHOWN ? ticks : ticks.slice(-SHOWN));
</script>

<span class="inline-flex items-center gap-[2px] align-middle" role="img" aria-label={ticksInWords(ticks)} title={ticksInWords(ticks)}>
	{#if shown.length < ticks.length}<span class="mr-1 text-xs text-(--faint)" aria-hidden="true">{ticks.length - shown.length}+</span>{/if}
	{#each shown as tick, i (i)}<TickMark {tick} />{/each}
</span>
