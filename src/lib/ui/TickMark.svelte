<script lang="ts">
	import type { Tick } from '$lib/core/requests/tick-strip';

	let { tick, size = 14 }: { tick: Tick; size?: number } = $props();
</script>

<!-- The shape tells the state; the words stand in the text alternative of what surrounds it. -->
<svg width={(size * 10) / 14} height={size} viewBox="0 0 10 14" aria-hidden="true" class="tick {tick}">
	{#if tick === 'settled'}
		<path d="M0.5 7h9" stroke-width="1.8" />
	{:else if tick === 'handed_in'}
		<rect x="1" y="1" width="8" height="12" class="filled" />
	{:else if tick === 'sent_back'}
		<path d="M4.5 1H9v12H1V4.5z" /><path d="M1 1l3 3" />
	{:else}
		<rect x="1" y="1" width="8" height="12" />
		{#if tick === 'started'}<rect x="1" y="7.5" width="8" height="5.5" class="below" />{/if}
		{#if tick === 'late'}<path d="M5 3.4v4.6M5 10.2v.6" stroke-width="1.7" />{/if}
	{/if}
</svg>

<style>
	.tick {
		display: inline-block;
		fill: none;
		stroke: var(--half);
		stroke-width: 1.3;
		flex: none;
	}
	.late {
		stroke: var(--ink);
		stroke-width: 1.7;
	}
	.handed_in,
	.sent_back {
		stroke: var(--lamp);
	}
	.filled {
		fill: var(--lamp);
	}
	.below {
		fill: var(--half);
		stroke: none;
	}
	.settled {
		stroke: #857a5e;
	}
</style>
