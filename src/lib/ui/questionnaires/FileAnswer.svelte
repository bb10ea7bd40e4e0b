<script lang="ts">
	import type { PaperRow } from '$lib/server/items/read-items';
	import { acceptOf, type SlotType } from '$lib/core/items/slots';
	import { sayer } from '$lib/words/words';
	import FileRows from '../papers/FileRows.svelte';
	import { addUploads, takesFiles, uploadsOf } from '../papers/uploads.svelte';

	/** A question that is answered with files: each is on its way as soon as it is chosen. */
	let {
		name,
		label,
		accepts,
		papers,
		at,
		title,
		home,
		locale,
		open,
		wrong,
		removeForm,
		byWhoIsKnown = true,
		mostBytes
	}: {
		/** key of the question */ name: string;
		label: string;
		accepts: SlotType;
		/** those of this question */ papers: PaperRow[];
		/** address of the item */ at: string;
		/** of the item */ title: string;
		home: string;
		locale: string;
		/** files can be added and taken out */ open: boolean;
		wrong?: string;
		/** id of the form that takes a file out */ removeForm: string;
		/** of somebody who is signed in: then files can be opened again, and go on where they stopped */ byWhoIsKnown?: boolean;
		/** size of the largest, where less is taken than everywhere */ mostBytes?: number;
	} = $props();
	const say = $derived(sayer(locale));
	const id = $props.id();
	const uploads = $derived(uploadsOf(at).filter(({ slot }) => slot === name));
</script>

<fieldset aria-describedby={wrong ? `${id}-wrong` : undefined}>
	<legend class="field-label !text-[0.92rem]">{label}</legend>
	{#if papers.length > 0 || uploads.length > 0}
		<FileRows {papers} {uploads} {home} {locale} linked={byWhoIsKnown}>
			{#snippet remove(paper, words)}
				{#if open}<button class="icon" form={removeForm} name="paperId" value={paper.id} aria-label={words}>×</button>{/if}
			{/snippet}
		</FileRows>
	{/if}
	{#if open}
		<label class="act-quiet file mt-2 w-full"
			><input
				type="file"
				multiple
				class="sr-only"
				accept={acceptOf(accepts)}
				aria-label={say('item.slot.add', { name: label })}
				aria-invalid={wrong ? 'true' : undefined}
				{@attach takesFiles((files) => void addUploads({ at, title, slot: name, resumable: byWhoIsKnown, mostBytes }, [...files], papers))}
			/>{papers.length > 0
				? say('item.questionnaire.file.more')
				: accepts === 'any'
					? say('item.questionnaire.file.add')
					: say('item.slot.add', { name: say(`item.slot.${accepts}`) })}</label
		>
	{/if}
</fieldset>
{#if wrong}<p id="{id}-wrong" class="field-problem">{wrong}</p>{/if}

<style>
	.file {
		cursor: pointer;
	}
	.file:focus-within {
		outline: 3px solid var(--ink);
		outline-offset: 2px;
	}
	/* where no scripts run files are added below, in a form of their own */
	@media (scripting: none) {
		.file {
			display: none;
		}
	}
</style>
