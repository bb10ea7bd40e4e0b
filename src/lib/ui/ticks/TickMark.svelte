<script lang="ts">
	import type { Tick } from '$lib/core/requests/tick-strip';
	import { drawTicks } from './tick-shapes';

	let { tick, size = 14 }: { tick: Tick; size?: number } = $props();
</script>

<!-- The shape tells the state; the words stand in the text alternative of what surrounds it. -->
<svg width={(size * 10) / 14} height={size} viewBox="0 0 10 14" aria-hidden="true" class="tick"
	>{#each drawTicks([tick]) as { part, d } (part)}<path class={part} {d} />{/each}</svg
>
