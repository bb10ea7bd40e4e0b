<script lang="ts">
	import type { LineInHand } from '$lib/core/requests/request-list';
	import { specFieldsOf } from '../items/specs';

	/** What a line asks for beyond its words, by its kind. */
	let { line = $bindable(), currency, timeZone }: { line: LineInHand; currency: string; timeZone: string } = $props();
	const Fields = $derived(specFieldsOf(line.kind));
</script>

{#if Fields}<Fields bind:line {currency} {timeZone} />{/if}
