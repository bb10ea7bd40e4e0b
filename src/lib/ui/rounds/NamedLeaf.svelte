<script lang="ts">
	import { page } from '$app/state';
	import { enhancedForm } from '../forms/enhanced-form';
	import { leafKeys } from '../desk/leaf-keys';
	import NoteForm from '../talk/NoteForm.svelte';
	import Thread from '../talk/Thread.svelte';
	import type { LeafProps } from './leaf-props';

	let { leaf, mine, pending, problem, handling, openNext, remember }: LeafProps<'named'> = $props();
	const note = $derived(leaf.note);
	const client = $derived(`/desk/clients/${note.clientId}`);
	const place = $derived(note.itemId ? `${client}/item/${note.itemId}` : note.contactId ? `${client}/words/${note.contactId}` : client);
	const action = $derived(
		note.itemId ? `/desk/items/${note.itemId}?/note` : note.contactId ? `${client}/words/${note.contactId}?/note` : `${client}?/writeNote`
	);
</script>

<div class="space-y-4 p-5 pr-10" {@attach leafKeys}>
	<header>
		<h2 class="text-[1.2rem]">{note.writtenBy} named you in a note</h2>
		<p class="text-sm text-(--half)">
			<a class="underline decoration-dotted" href={client}>{note.clientName}</a>{#if note.about}, <a class="underline decoration-dotted" href={place}
					>{note.about}</a
				>{/if}
		</p>
	</header>
	<Thread words={leaf.words} notes={leaf.notes} clientId={note.clientId} timeZone={page.data.firm.timeZone} />
	{#if problem}<p class="notice-wrong" role="alert">{problem}</p>{/if}
	<form method="post" action="/desk/notes/{note.id}?/seen" data-acts {@attach enhancedForm(handling)}>
		<button class="act" aria-keyshortcuts="n" disabled={pending}>I have seen it <span class="key">n</span></button>
	</form>
	{#if mine('keep_record')}{#key note.id}<NoteForm
				{action}
				of="named {note.id}"
				colleagues={leaf.colleagues}
				begin={remember}
				kept={openNext}
			/>{/key}
		<p class="text-xs text-(--half)">A note of yours counts as having seen this one.</p>{/if}
</div>
