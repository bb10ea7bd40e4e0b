<script lang="ts">
	import { MESSAGE_TEXT_KIND } from '$lib/core/messages/message-texts';
	import { plainSigns, textMessageParts } from '$lib/core/messages/text-message';

	import TextChoice from './TextChoice.svelte';
	import WordsField from './WordsField.svelte';

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
	const length = $derived(textMessageParts(plainSigns(words ?? '') + ' '.repeat(LINK_AND_STOP)));
</script>

<div>
	<label class="flex items-start gap-2 text-sm"
		><input type="checkbox" class="mt-1" checked={words !== null} onchange={(event) => (words = event.currentTarget.checked ? draft : null)} />
		{label}</label
	>
	{#if words !== null}
		<div class="mt-2 space-y-2">
			<TextChoice kind="invitation_sms" take={(text) => (words = text.body)} />
			<WordsField
				name="textBody"
				label="Words of the text message"
				bind:value={words}
				fields={MESSAGE_TEXT_KIND.invitation_sms.fields}
				rows={3}
				{problem}
			/>
		</div>
		<p class="mt-1 text-xs text-(--half)">
			The link and “Answer STOP for no more texts.” follow. Networks count it as about {length.parts}
			{length.parts === 1 ? 'message' : 'messages'}{length.alphabet === 'ucs2' ? '; a sign outside their plain alphabet makes it longer' : ''}.
		</p>
	{/if}
</div>
