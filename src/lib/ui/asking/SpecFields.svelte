<script lang="ts">
	import type { LineInHand } from '$lib/core/requests/request-list';
	import { deskSideOf } from '../items/desk-side';

	/** What a line asks for beyond its words, by its kind. */
	let { line = $bindable(), currency, timeZone }: { line: LineInHand; currency: string; timeZone: string } = $props();
	const Fields = $derived(deskSideOf(line.kind).Spec);
</script>

{#if Fields}<Fields bind:line {currency} {timeZone} />{/if}
