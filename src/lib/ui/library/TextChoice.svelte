<script lang="ts">
	import type { Attachment } from 'svelte/attachments';
	import type { MessageTextKind } from '$lib/core/messages/message-texts';

	/** Takes words from the Library into a form. They are copied: the text itself stays as it is. */
	let {
		kind,
		take,
		to,
		attach
	}: {
		kind: MessageTextKind;
		take: (text: { subject: string; body: string }) => void;
		/** to whom it goes, where that is known: the texts come filled in for them */ to?: { clientId: string; contactId: string };
		/** for the list, once there is something to choose */ attach?: Attachment<HTMLSelectElement>;
	} = $props();
	interface Offered {
		id: string;
		name: string;
		folder: string;
		subject: string;
		body: string;
	}
	let texts = $state<Offered[] | null>(null);
	let failed = $state(false);
	let chosen = $state('');
	/** the list was gone through by keys while it was closed, where each key chooses anew: what is wanted is said by Enter, or the button */
	let browsing = $state(false);

	async function read() {
		texts ??= await fetch(`/desk/texts-of-library?${new URLSearchParams({ kind, ...to })}`).then(
			async (answer) => (answer.ok ? ((await answer.json()) as Offered[]) : null),
			() => null
		);
		failed = texts === null;
	}
	function choose() {
		const text = texts?.find((offered) => offered.id === chosen);
		if (text) take({ subject: text.subject, body: text.body });
		chosen = '';
		browsing = false;
	}
	function onkeydown(event: KeyboardEvent) {
		if (event.key === 'Enter' && browsing && chosen) {
			event.preventDefault();
			choose();
		} else if (event.key !== 'Tab' && event.key !== 'Shift') browsing = event.key !== ' ' && event.key !== 'Enter' && !event.altKey;
	}
	const folders = $derived([...new Set((texts ?? []).map((text) => text.folder))]);
	$effect(() => void read());
</script>

<label class="field"
	><span>From the Library</span><select
		bind:value={chosen}
		onchange={() => browsing || choose()}
		{onkeydown}
		onpointerdown={() => (browsing = false)}
		disabled={!texts || texts.length === 0}
		{@attach texts && attach}
	>
		<option value="">{failed ? 'The Library did not answer' : 'Choose a text …'}</option>
		{#each folders as folder (folder)}
			{#if folder}<optgroup label={folder}>
					{#each (texts ?? []).filter((text) => text.folder === folder) as text (text.id)}<option value={text.id}>{text.name}</option>{/each}
				</optgroup>
			{:else}{#each (texts ?? []).filter((text) => text.folder === '') as text (text.id)}<option value={text.id}>{text.name}</option>{/each}{/if}
		{/each}
	</select></label
>
{#if browsing && chosen}<button type="button" class="act-quiet mt-1" onclick={choose}>Use it <span class="key">↵</span></button>{/if}
