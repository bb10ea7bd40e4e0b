<script lang="ts">
	import type { PaperRow } from '$lib/server/items/read-items';
	import type { SlotType } from '$lib/core/items/slots';
	import { sayer } from '$lib/words/words';
	import { enhancedForm } from '../forms/enhanced-form';
	import DropArea from './DropArea.svelte';
	import { acceptOf } from '$lib/core/items/slots';
	import PhotoPages from './PhotoPages.svelte';
	import FileRows from './FileRows.svelte';
	import { addUploads, takesFiles, uploadsOf } from './uploads.svelte';

	let {
		itemId,
		title,
		papers,
		slots = [],
		missing = [],
		handsIn = true,
		locale,
		home,
		onProblem
	}: {
		itemId: string;
		title: string;
		papers: PaperRow[];
		/** files that are asked for by name */ slots?: { name: string; /** where the name says nothing */ words?: string; accepts: SlotType }[];
		/** names of those that are not there yet */ missing?: string[];
		/** with a button that hands the papers in; otherwise something else does */ handsIn?: boolean;
		locale: string;
		home: string;
		onProblem: (message: string) => void;
	} = $props();
	const say = $derived(sayer(locale));
	const at = $derived(`${home}/item/${itemId}`);
	const uploads = $derived(uploadsOf(at));
	let pending = $state(false);
	const busy = $derived(uploads.some((u) => u.state === 'waiting' || u.state === 'going'));
	const notArrived = $derived(uploads.filter((u) => u.state === 'failed' && !(typeof u.says === 'object' && u.says?.key === 'item.paper.same')));

	function choose(files: Iterable<File> | null | undefined, slot: string | null = null) {
		void addUploads({ at, title, slot }, [...(files ?? [])], papers);
	}
</script>

<svelte:window onbeforeunload={(event) => busy && event.preventDefault()} />

<noscript>
	<form method="post" action="{at}?/add" enctype="multipart/form-data" class="mt-4 space-y-3">
		<label class="field"><span>{say('item.paper.choose')}</span><input type="file" name="files" multiple required /></label>
		{#if slots.length > 0}<label class="field"
				><span>{say('item.slot.missing')}</span><select name="slot"
					><option value=""></option>{#each slots as slot (slot.name)}<option value={slot.name}>{slot.words ?? slot.name}</option>{/each}</select
				></label
			>{/if}
		<button class="act w-full">{say('item.paper.addPlain')}</button>
	</form>
</noscript>
{#if slots.length > 0}
	<ul class="scripts mt-4 border-t border-(--rule-strong)">
		{#each slots as slot (slot.name)}
			{@const filled = papers.filter((paper) => paper.slot === slot.name)}
			<li class="flex items-center gap-3 border-b border-(--rule-strong) py-1">
				<span class="min-w-0 flex-1"
					><b>{slot.name}</b>
					<span class="block text-[0.88rem] text-(--half)"
						>{filled.length > 0
							? filled.map((paper) => paper.name).join(', ')
							: `${say('item.slot.missing')}, ${say(`item.slot.${slot.accepts}`)}`}</span
					></span
				>
				<label class="act-quiet"
					><input
						type="file"
						class="sr"
						accept={acceptOf(slot.accepts)}
						aria-label={say('item.slot.add', { name: slot.name })}
						{@attach takesFiles((files) => choose(files, slot.name))}
					/>{filled.length > 0 ? '+' : say('item.slot.add', { name: '' }).replace(/[\s:]+$/, '')}</label
				>
			</li>
		{/each}
	</ul>
{/if}
<DropArea take={(files) => choose(files)}>
	{#snippet children(over)}
		<div class="drop scripts mt-4" class:over>
			<label class="act {papers.length > 0 || !handsIn ? 'act-second' : ''} w-full">
				<input type="file" multiple class="sr" {@attach takesFiles(choose)} />
				{say('item.paper.choose')}
			</label>
			<label class="act act-second photo mt-2 w-full">
				<input type="file" accept="image/*" capture="environment" class="sr" {@attach takesFiles(choose)} />
				{say('item.paper.photo')}
			</label>
			<p class="mt-2 text-center text-sm text-(--half)"><span class="hidden sm:inline">{say('item.paper.drop')}. </span>{say('item.paper.limits')}</p>
		</div>
	{/snippet}
</DropArea>
<PhotoPages take={choose} {locale} />

<FileRows {papers} {uploads} {home} {locale}>
	{#snippet remove(paper, words)}
		<form method="post" action="{home}/item/{itemId}?/removePaper" {@attach enhancedForm({ onProblem: (p) => onProblem(p.message) })}>
			<input type="hidden" name="paperId" value={paper.id} />
			<button class="icon" aria-label={words}>×</button>
		</form>
	{/snippet}
</FileRows>

{#if handsIn && papers.length > 0}
	<form
		method="post"
		action="{home}/item/{itemId}?/handIn"
		class="mt-4"
		{@attach enhancedForm({ onPending: (p) => (pending = p), onProblem: (p) => onProblem(p.message) })}
	>
		{#if missing.length > 0 || notArrived.length > 0}
			<p class="notice-lamp mb-3">
				{#if missing.length > 0}{say('item.paper.missing', { names: missing.join(', ') })}{/if}
				{#if notArrived.length > 0}{say('item.paper.notArrived', { names: notArrived.map((u) => u.file.name).join(', ') })}{/if}
			</p>
			<button class="act act-second w-full" name="without" value="yes" disabled={busy || pending}>{say('item.paper.without')}</button>
		{:else}<button class="act w-full" disabled={busy || pending}>{say('item.paper.handIn', { count: papers.length })}</button>{/if}
	</form>
{/if}

<style>
	@media (scripting: none) {
		.scripts {
			display: none;
		}
	}
	.drop {
		border: 2px dashed transparent;
		border-radius: 8px;
	}
	.over {
		border-color: var(--act);
		background: #fffefb;
	}
	/* the camera is at hand where a finger points */
	.photo {
		display: none;
	}
	@media (pointer: coarse) {
		.photo {
			display: flex;
		}
	}
	label.act:focus-within {
		outline: 3px solid var(--ink);
		outline-offset: 2px;
	}
	.act-second {
		background: #fffefb;
		color: var(--act);
	}
</style>
