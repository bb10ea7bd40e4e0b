<script lang="ts">
	import { untrack } from 'svelte';
	import { on } from 'svelte/events';
	import type { PaperRow } from '$lib/server/items/read-items';
	import type { SlotType } from '$lib/core/items/slots';
	import { sizeWords } from '$lib/words/dates';
	import { sayer } from '$lib/words/words';
	import { enhancedForm } from '../forms/enhanced-form';
	import DropArea from './DropArea.svelte';
	import { addUploads, cancelUpload, startUpload, uploadsOf, type Upload } from './uploads.svelte';

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
		/** files that are asked for by name */ slots?: { name: string; accepts: SlotType }[];
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
	const said = (upload: Upload) => (typeof upload.says === 'string' ? upload.says : upload.says ? say(upload.says.key, upload.says.values) : '');

	function choose(files: FileList | null | undefined, slot: string | null = null) {
		void addUploads({ at, title, slot }, [...(files ?? [])], papers);
	}
	/** Takes the files that are chosen, also those that were while the scripts of the page were still on their way, as they are on a slow phone. */
	const takesFiles =
		(slot: string | null = null) =>
		(input: HTMLInputElement) => {
			const take = () => {
				if (!input.files?.length) return;
				choose(input.files, slot);
				input.value = '';
			};
			untrack(take);
			return on(input, 'change', take);
		};
</script>

<svelte:window onbeforeunload={(event) => busy && event.preventDefault()} />

<noscript>
	<form method="post" action="{at}?/add" enctype="multipart/form-data" class="mt-4 space-y-3">
		<label class="field"><span>{say('item.paper.choose')}</span><input type="file" name="files" multiple required /></label>
		{#if slots.length > 0}<label class="field"
				><span>{say('item.slot.missing')}</span><select name="slot"
					><option value=""></option>{#each slots as slot (slot.name)}<option>{slot.name}</option>{/each}</select
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
						accept={slot.accepts === 'pdf' ? 'application/pdf' : slot.accepts === 'picture' ? 'image/*' : undefined}
						aria-label={say('item.slot.add', { name: slot.name })}
						{@attach takesFiles(slot.name)}
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
				<input type="file" multiple class="sr" {@attach takesFiles()} />
				{say('item.paper.choose')}
			</label>
			<label class="act act-second photo mt-2 w-full">
				<input type="file" accept="image/*" capture="environment" class="sr" {@attach takesFiles()} />
				{say('item.paper.photo')}
			</label>
			<p class="mt-2 text-center text-sm text-(--half)"><span class="hidden sm:inline">{say('item.paper.drop')}. </span>{say('item.paper.limits')}</p>
		</div>
	{/snippet}
</DropArea>

<ul class="mt-4" aria-label={say('item.paper.list')} aria-live="polite">
	{#each papers as paper (paper.id)}
		<li class="line">
			<a class="min-w-0 truncate underline decoration-dotted underline-offset-4" href="{home}/papers/{paper.id}?download" download>{paper.name}</a>
			<span class="text-sm whitespace-nowrap text-(--half)">{say('item.paper.arrived')} · {sizeWords(locale, paper.bytes)}</span>
			<form method="post" action="{home}/item/{itemId}?/removePaper" {@attach enhancedForm({ onProblem: (p) => onProblem(p.message) })}>
				<input type="hidden" name="paperId" value={paper.id} />
				<button class="icon" aria-label={say('item.paper.remove', { name: paper.name })}>×</button>
			</form>
		</li>
	{/each}
	{#each uploads as upload (upload.key)}
		<li class="line" class:failed={upload.state === 'failed'}>
			<span class="min-w-0">
				<span class="block truncate">{upload.file.name}</span>
				{#if upload.state === 'going'}<progress class="h-1.5 w-full" value={upload.percent} max="100" aria-label={upload.file.name}></progress>{/if}
				{#if said(upload)}<span class="block text-sm" role="alert">{said(upload)}</span>{/if}
			</span>
			<span class="text-sm whitespace-nowrap text-(--half)">
				{#if upload.state === 'going'}{say('item.paper.uploading', { percent: upload.percent, size: sizeWords(locale, upload.file.size) })}
				{:else if upload.state === 'waiting'}{say('item.paper.waiting')}
				{:else}<button class="act-link" onclick={() => startUpload(upload)} aria-label={say('item.paper.retry', { name: upload.file.name })}>↻</button
					>{/if}
			</span>
			<button class="icon" onclick={() => cancelUpload(upload)} aria-label={say('item.paper.cancel', { name: upload.file.name })}>×</button>
		</li>
	{/each}
</ul>

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
	.line {
		display: grid;
		grid-template-columns: minmax(0, 1fr) auto 44px;
		gap: 0.6rem;
		align-items: center;
		min-height: 52px;
		border-bottom: 1px solid var(--rule-strong);
	}
	.failed {
		color: var(--wrong);
	}
	.icon {
		width: 44px;
		height: 44px;
		font-size: 1.3rem;
		color: var(--half);
		cursor: pointer;
	}
	progress {
		accent-color: var(--act);
	}
</style>
