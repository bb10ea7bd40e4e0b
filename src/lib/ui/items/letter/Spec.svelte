<script lang="ts">
	import LetterEditor from '../../letters/LetterEditor.svelte';
	import type { SpecProps } from '../spec';

	let { line = $bindable() }: SpecProps<'letter'> = $props();
</script>

{#if line.document}<LetterEditor bind:document={line.document} label="Words of {line.title}" />{/if}
