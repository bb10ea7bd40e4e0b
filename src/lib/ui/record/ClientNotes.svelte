<script lang="ts">
	import { piecesOf, type Colleague } from '$lib/core/talk/named';
	import { timeWords } from '$lib/words/dates';
	import type { PlacedNote } from '$lib/server/talk/notes';
	import { enhancedForm } from '../forms/enhanced-form';
	import NoteForm from '../talk/NoteForm.svelte';

	/** All notes of a client, also those that stand beside an item or in the talk with a person. */
	let {
		clientId,
		notes,
		colleagues,
		timeZone,
		mayWrite
	}: { clientId: string; notes: PlacedNote[]; colleagues: Colleague[]; timeZone: string; mayWrite: boolean } = $props();
	let problem = $state('');
	const handling = {
		onProblem: (p: { message: string }) => (problem = p.message),
		onSuccess: () => {
			problem = '';
		}
	};
</script>

{#if problem}<p class="notice-wrong" role="alert">{problem}</p>{/if}
<ul class="text-sm">
	{#each notes as note (note.id)}
		<li class="my-2 border-l-[3px] border-dashed border-(--margin-line) bg-(--note) px-3 py-2">
			<p class="break-words whitespace-pre-wrap">
				{#each piecesOf( note.words, note.told.map(({ name }) => name) ) as piece, i (i)}{#if piece.name}<b>{piece.text}</b
						>{:else}{piece.text}{/if}{/each}
			</p>
			<div class="mt-1 flex items-baseline gap-3 text-[0.8rem] text-(--half)">
				<span
					>{note.writtenBy}, {timeWords('en', note.writtenAt, timeZone)}{#if note.about}, beside
						<a
							class="row-link"
							href={note.itemId ? `/desk/clients/${clientId}/item/${note.itemId}` : `/desk/clients/${clientId}/words/${note.contactId}`}
							data-sveltekit-noscroll>{note.itemId ? note.about : `the talk with ${note.about}`}</a
						>{/if}</span
				>
				{#if mayWrite}<form method="post" action="/desk/clients/{clientId}?/removeNote" class="ml-auto" {@attach enhancedForm(handling)}>
						<input type="hidden" name="noteId" value={note.id} /><button class="act-link" aria-label="Delete this note of {note.writtenBy}"
							>Delete</button
						>
					</form>{/if}
			</div>
		</li>
	{/each}
</ul>
{#if mayWrite}<NoteForm action="/desk/clients/{clientId}?/writeNote" of="note {clientId}" {colleagues} />{/if}
