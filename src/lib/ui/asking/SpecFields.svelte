<script lang="ts">
	import type { LineInHand } from '$lib/core/requests/request-list';
	import { deskSideOf } from '../items/desk-side';
	import type { WritingPlace } from '$lib/core/requests/writing-place';

	/** What a line asks for beyond its words, by its kind. */
	let { line = $bindable(), place }: { line: LineInHand; place: WritingPlace } = $props();
	const Fields = $derived(deskSideOf(line.kind).Spec);
</script>

{#if Fields}<Fields bind:line {place} />{/if}
