<script lang="ts">
	import { onMount } from 'svelte';
	import type { AttachmentRow } from '$lib/server/attachments/attachments';
	import type { ClientPdf } from '$lib/server/papers/attach-paper';
	import { dateWords, dayOf } from '$lib/words/dates';
	import { askDesk } from '../desk/ask-desk';

	/** A PDF among a client's papers is taken to be signed. It stands in a form that is sent by other means: the return key sends nothing. */
	let { clientId, timeZone, taken }: { clientId: string; timeZone: string; taken: (file: AttachmentRow) => Promise<void> } = $props();
	const id = $props.id();
	/** Milliseconds without a key after which is looked. */
	const PAUSE = 250;
	let typed = $state('');
	let found = $state<{ pdfs: ClientPdf[]; more: boolean; typed: string } | null>(null);
	let problem = $state('');
	/** the one that is being taken */
	let taking = $state<string | null>(null);
	let waiting: ReturnType<typeof setTimeout> | undefined;
	let field = $state<HTMLInputElement>();

	async function look() {
		const asked = typed;
		const answer = await askDesk<{ pdfs: ClientPdf[]; more: boolean }>(`/desk/clients/${clientId}?/findPdfs`, { typed: asked }, (message) => {
			problem = message;
		});
		// an answer that comes late says nothing about what is typed by now
		if (asked !== typed) return;
		if (answer) [found, problem] = [{ pdfs: answer.pdfs, more: answer.more, typed: asked }, ''];
		else problem ||= 'The papers could not be read. Please try again.';
	}
	onMount(() => {
		field?.focus();
		void look();
		return () => clearTimeout(waiting);
	});
	async function take(pdf: ClientPdf) {
		if (taking) return;
		taking = pdf.id;
		problem = '';
		const answer = await askDesk<{ file: AttachmentRow }>(`/desk/clients/${clientId}?/attachPaper`, { paperId: pdf.id }, (message) => {
			problem = message;
		});
		if (answer) await taken(answer.file);
		else problem ||= `${pdf.name} could not be taken. Please try again.`;
		taking = null;
	}
</script>

<div class="mt-2 border-t border-(--rule) pt-2" role="group" aria-label="Their papers">
	<label class="field"
		><span>Find among their PDFs</span><input
			type="search"
			bind:this={field}
			bind:value={typed}
			maxlength="120"
			autocomplete="off"
			aria-controls="{id}-found"
			oninput={() => {
				clearTimeout(waiting);
				waiting = setTimeout(look, PAUSE);
			}}
			onkeydown={(event) => {
				if (event.key !== 'Enter' || event.isComposing) return;
				event.preventDefault();
				clearTimeout(waiting);
				void look();
			}}
		/></label
	>
	{#if problem}<p class="field-problem mt-1" role="alert">{problem}</p>{/if}
	<ul id="{id}-found" class="mt-1 max-h-56 overflow-y-auto text-sm">
		{#each found?.pdfs ?? [] as pdf (pdf.id)}
			<li class="flex flex-wrap items-baseline gap-x-3 py-0.5">
				<button type="button" class="act-link text-left" disabled={taking !== null} onclick={() => take(pdf)}>{pdf.name}</button>
				<span class="text-(--half)"
					>{taking === pdf.id ? 'Reading …' : `${dateWords('en', dayOf(pdf.at, timeZone))}${pdf.folder ? `, in ${pdf.folder}` : ''}`}</span
				>
			</li>
		{/each}
	</ul>
	<p class="text-sm text-(--half)" role="status">
		{#if found?.pdfs.length === 0}{found.typed.trim()
				? `No PDF of theirs was found for “${found.typed.trim()}”.`
				: 'There is no PDF among their papers.'}
		{:else if found?.more}These are the newest. Type what the one you want is called.{/if}
	</p>
</div>
