<script lang="ts">
	import type { LetterDocument } from '$lib/core/letters/letter-document';
	import type { ItemRow } from '$lib/server/items/read-items';
	import { enhancedForm, type FormHandling } from '../forms/enhanced-form';
	import LetterText from '../letters/LetterText.svelte';

	/** Signing for the firm: an act of its own, with the letter before one's eyes and its name on the button. */
	let {
		item,
		document,
		person,
		handling,
		pending,
		close
	}: {
		item: ItemRow;
		document: LetterDocument;
		person: { name: string };
		handling: FormHandling;
		pending: boolean;
		close: () => void;
	} = $props();
	let problem = $state('');
	let letter = $state<HTMLElement>();
	const opened = (dialog: HTMLDialogElement) => {
		dialog.showModal();
		// what is read comes first: a key pressed in a run signs nothing
		letter?.focus();
	};
</script>

<dialog class="sheet-dialog signing" aria-labelledby="countersign-title" {@attach opened} onclose={close}>
	<h2 id="countersign-title" class="text-xl">Countersign “{item.title}”</h2>
	<p class="mt-1 text-sm text-(--half)">
		For {item.clientName}, signed by {item.contactName}. With your signature it is sealed and goes to both sides. This cannot be undone.
	</p>
	<!-- a part that scrolls is reached by the keyboard -->
	<!-- svelte-ignore a11y_no_noninteractive_tabindex -->
	<div
		class="mt-3 max-h-[50vh] overflow-auto border border-(--rule-strong) bg-(--sheet) px-5 py-3"
		role="region"
		aria-label="The letter"
		tabindex="0"
		bind:this={letter}
	>
		<LetterText {document} />
	</div>
	{#if problem}<p class="notice-wrong mt-3" role="alert">{problem}</p>{/if}
	<form
		method="post"
		action="/desk/items/{item.id}?/countersign"
		class="mt-4 flex flex-wrap gap-2"
		{@attach enhancedForm({ ...handling, onProblem: (p) => (problem = p.message) })}
	>
		<input type="hidden" name="version" value={item.version} />
		<input type="hidden" name="sha256" value={item.letter!.sha256} />
		<button class="act" disabled={pending}>{pending ? 'Sealing …' : `Sign “${item.title}” as ${person.name}`}</button>
		<button type="button" class="act-quiet ml-auto" onclick={close}>Not now</button>
	</form>
</dialog>

<style>
	.signing {
		width: min(46rem, calc(100vw - 2rem));
	}
</style>
