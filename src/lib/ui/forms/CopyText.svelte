<script lang="ts">
	import { copier } from './copier.svelte';

	/** A text to take along: shown whole, copied with one click. */
	let { label, text }: { label: string; text: string } = $props();
	const copying = copier();
	let field: HTMLTextAreaElement;

	function copy() {
		field.select();
		void copying.copy(text);
	}
</script>

<div class="flex items-end gap-2">
	<label class="field min-w-0 flex-1"
		><span>{label}</span><textarea
			bind:this={field}
			readonly
			rows={text.length > 90 ? 3 : 1}
			spellcheck="false"
			class="text-[0.8rem]"
			onfocus={() => field.select()}>{text}</textarea
		></label
	>
	<button type="button" class="act-quiet" onclick={copy} aria-label="Copy: {label}">{copying.copied ? 'Copied' : 'Copy'}</button>
</div>
