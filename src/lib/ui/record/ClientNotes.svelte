<script lang="ts">
	import { timeWords } from '$lib/words/dates';
	import type { ClientNote } from '$lib/server/clients/client-record';
	import { enhancedForm } from '../forms/enhanced-form';

	let { clientId, notes, timeZone, mayWrite }: { clientId: string; notes: ClientNote[]; timeZone: string; mayWrite: boolean } = $props();
	let words = $state('');
	let problem = $state('');
	let pending = $state(false);
	const handling = {
		onPending: (p: boolean) => (pending = p),
		onProblem: (p: { message: string }) => (problem = p.message),
		onSuccess: () => {
			problem = '';
		}
	};
</script>

<ul class="text-sm">
	{#each notes as note (note.id)}
		<li class="my-2 border-l-[3px] border-(--margin-line) bg-(--lamp-soft) px-3 py-2">
			<p class="break-words whitespace-pre-wrap">{note.words}</p>
			<div class="mt-1 flex items-baseline gap-3 text-[0.8rem] text-(--half)">
				{note.writtenBy}, {timeWords('en', note.writtenAt, timeZone)}
				{#if mayWrite}<form method="post" action="/desk/clients/{clientId}?/removeNote" class="ml-auto" {@attach enhancedForm(handling)}>
						<input type="hidden" name="noteId" value={note.id} /><button class="act-link" aria-label="Delete this note of {note.writtenBy}"
							>Delete</button
						>
					</form>{/if}
			</div>
		</li>
	{/each}
</ul>
{#if mayWrite}<form
		method="post"
		action="/desk/clients/{clientId}?/writeNote"
		class="space-y-2 py-2"
		{@attach enhancedForm({
			...handling,
			onSuccess: () => {
				words = '';
				problem = '';
			}
		})}
	>
		{#if problem}<p class="notice-wrong" role="alert">{problem}</p>{/if}
		<label class="field"
			><span>A note that only the firm sees</span><textarea name="words" rows="2" bind:value={words} maxlength="4000"></textarea></label
		>
		{#if words.trim()}<button class="act-quiet" disabled={pending}>Save the note</button>{/if}
	</form>{/if}
