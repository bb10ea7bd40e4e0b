<script lang="ts">
	import { piecesOf } from '$lib/core/talk/named';
	import type { Remark } from '$lib/server/items/remarks';
	import type { Note } from '$lib/server/talk/notes';
	import { timeWords } from '$lib/words/dates';
	import { enhancedForm } from '../forms/enhanced-form';
	import ByMail from './ByMail.svelte';

	/** What both sides wrote, and between it what only the firm reads, on other paper and said in words; oldest first. */
	let { words, notes, clientId, timeZone }: { words: Remark[]; notes: Note[]; clientId: string; timeZone: string } = $props();
	const entries = $derived(
		[
			...words.map((said) => ({ id: said.id, at: said.writtenAt, said, note: null })),
			...notes.map((note) => ({ id: note.id, at: note.writtenAt, said: null, note }))
		].sort((a, b) => a.at.localeCompare(b.at))
	);
	let list: HTMLOListElement;
	let problem = $state('');
	const listed = new Intl.ListFormat('en', { type: 'conjunction' });
	const how = (one: Remark): string => (one.side === 'client' ? (one.seenAt ? '' : 'new') : one.seenAt ? 'seen' : 'not seen yet');
	const first = (name: string): string => name.split(' ')[0];
	function told(note: Note): string {
		const seen = note.told.filter(({ seenAt }) => seenAt).map(({ name }) => first(name));
		const not = note.told.filter(({ seenAt }) => !seenAt).map(({ name }) => first(name));
		return [
			seen.length > 0 ? `${listed.format(seen)} ${seen.length > 1 ? 'have' : 'has'} seen it` : '',
			not.length > 0 ? `${listed.format(not)} told` : ''
		]
			.filter(Boolean)
			.join(', ');
	}
</script>

{#if problem}<p class="notice-wrong mb-2" role="alert">{problem}</p>{/if}
<ol class="border-t border-(--rule-strong) outline-none" bind:this={list} tabindex="-1">
	{#each entries as { id, said, note } (id)}
		{#if said}<li class="entry" class:theirs={said.side === 'client'} class:unseen={said.side === 'client' && !said.seenAt}>
				<p class="text-[0.8rem] text-(--half)">
					<b class="text-(--ink)">{said.by}</b>, {timeWords('en', said.writtenAt, timeZone)}{how(said) ? `, ${how(said)}` : ''}
				</p>
				<p class="break-words whitespace-pre-line">{said.words}</p>
				{#if said.mail}<ByMail mail={said.mail} {clientId} />{/if}
			</li>
		{:else if note}<li class="entry ours">
				<p class="text-[0.8rem] text-(--half)">
					<b class="text-(--ink)">only us</b> · {note.writtenBy}, {timeWords('en', note.writtenAt, timeZone)}{note.told.length > 0
						? ` · ${told(note)}`
						: ''}
				</p>
				<p class="break-words whitespace-pre-line">
					{#each piecesOf( note.words, note.told.map(({ name }) => name) ) as piece, i (i)}{#if piece.name}<b>{piece.text}</b
							>{:else}{piece.text}{/if}{/each}
				</p>
				{#if note.mine}<form
						method="post"
						action="/desk/clients/{clientId}?/removeNote"
						{@attach enhancedForm({
							onProblem: ({ message }) => (problem = message),
							onSuccess: () => {
								problem = '';
								// what one was at is gone
								list.focus();
							}
						})}
					>
						<input type="hidden" name="noteId" value={note.id} />
						<button class="act-link text-[0.8rem]" aria-label="Delete your note of {timeWords('en', note.writtenAt, timeZone)}">Delete</button>
					</form>{/if}
			</li>{/if}
	{/each}
</ol>

<style>
	.entry {
		padding: 8px 0 8px 12px;
		border-bottom: 1px solid var(--rule-strong);
		border-left: 3px solid transparent;
		font-size: 0.93rem;
	}
	.entry.theirs {
		border-left-color: var(--rule-strong);
	}
	.entry.unseen {
		border-left-color: var(--lamp-edge);
		background: var(--lamp-soft);
	}
	.entry.ours {
		border-left: 3px dashed var(--margin-line);
		background: var(--note);
		padding-right: 12px;
	}
</style>
