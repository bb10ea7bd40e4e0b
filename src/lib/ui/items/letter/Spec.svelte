<script lang="ts">
	import { letterFields } from '$lib/core/letters/merge-fields';
	import LetterEditor from '../../letters/LetterEditor.svelte';
	import type { SpecProps } from '../spec';

	let { line = $bindable(), place }: SpecProps<'letter'> = $props();
</script>

{#if line.document}<LetterEditor bind:document={line.document} label="Words of {line.title}" fields={letterFields(place.facts)} />{/if}
