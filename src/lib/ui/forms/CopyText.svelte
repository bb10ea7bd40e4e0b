<script lang="ts">
	/** A text to take along: shown whole, copied with one click. */
	let { label, text }: { label: string; text: string } = $props();
	let copied = $state(false);
	let field: HTMLTextAreaElement;

	async function copy() {
		field.select();
		await navigator.clipboard?.writeText(text).then(
			() => (copied = true),
			() => undefined
		);
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
	<button type="button" class="act-quiet" onclick={copy} aria-label="Copy: {label}">{copied ? 'Copied' : 'Copy'}</button>
</div>
