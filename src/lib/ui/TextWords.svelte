<script lang="ts">
	import { TEXT_WORDS_MAX, plainSigns, textParts } from '$lib/core/messages/text-message';

	/** The words of a text message that goes along with an e-mail, once it is ticked. */
	let {
		draft,
		label,
		problem,
		words = $bindable(null)
	}: {
		draft: string;
		/** what is ticked */ label: string;
		problem?: string;
		/** null while nothing goes by text */ words?: string | null;
	} = $props();
	// the link and the note about STOP come on top
	const LINK_AND_STOP = 130;
	const length = $derived(textParts(plainSigns(words ?? '') + ' '.repeat(LINK_AND_STOP)));
</script>

<div>
	<label class="flex items-start gap-2 text-sm"
		><input type="checkbox" class="mt-1" checked={words !== null} onchange={(event) => (words = event.currentTarget.checked ? draft : null)} />
		{label}</label
	>
	{#if words !== null}
		<label class="field mt-2"
			><span>Words of the text message</span><textarea
				name="textBody"
				rows="3"
				bind:value={words}
				maxlength={TEXT_WORDS_MAX}
				aria-invalid={problem ? 'true' : undefined}></textarea></label
		>
		<p class="mt-1 text-xs text-(--half)">
			The link and “Answer STOP for no more texts.” follow. Networks count it as about {length.parts}
			{length.parts === 1 ? 'message' : 'messages'}{length.alphabet === 'ucs2' ? '; a sign outside their plain alphabet makes it longer' : ''}.
		</p>
	{/if}
</div>
