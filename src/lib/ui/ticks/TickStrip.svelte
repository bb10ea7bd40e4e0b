<script lang="ts">
	import { lastTicks, ticksInWords, type TickRun } from '$lib/core/requests/tick-strip';
	import { drawTicks } from './tick-shapes';

	let { runs }: { runs: TickRun[] } = $props();
	const SHOWN = 18;
	const STEP = 12;
	const shown = $derived(lastTicks(runs, SHOWN));
	const words = $derived(ticksInWords(runs));
	const width = $derived(Math.max(1, shown.ticks.length * STEP - 2));
</script>

<span class="inline-flex items-center align-middle" role="img" aria-label={words} title={words}
	>{#if shown.before > 0}<span class="mr-1 text-xs text-(--faint)" aria-hidden="true">{shown.before}+</span>{/if}<svg
		{width}
		height="14"
		viewBox="0 0 {width} 14"
		aria-hidden="true"
		class="tick"
		>{#each drawTicks(shown.ticks, STEP) as { part, d } (part)}<path class={part} {d} />{/each}</svg
	></span
>
