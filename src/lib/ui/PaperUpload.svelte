<script lang="ts">
	import { invalidateAll } from '$app/navigation';
	import type { PaperLine } from '$lib/server/requests/read-requests';
	import type { SlotType } from '$lib/core/requests/item-kinds';
	import { sizeWords } from '$lib/words/dates';
	import { sayer } from '$lib/words/words';
	import { enhancedForm } from './enhanced-form';
	import { uploadPaper, type GoingUpload } from './upload-paper';

	let {
		itemId,
		papers,
		slots = [],
		handsIn = true,
		locale,
		home,
		onProblem
	}: {
		itemId: string;
		papers: PaperLine[];
		/** files that are asked for by name */ slots?: { name: string; accepts: SlotType }[];
		/** with a button that hands the papers in; otherwise something else does */ handsIn?: boolean;
		locale: string;
		home: string;
		onProblem: (message: string) => void;
	} = $props();
	const say = $derived(sayer(locale));
	const AT_ONCE = 2;

	interface Upload {
		key: string;
		file: File;
		slot: string | null;
		state: 'waiting' | 'going' | 'failed' | 'cancelled';
		percent: number;
		message: string;
		going: GoingUpload | null;
	}
	let uploads = $state<Upload[]>([]);
	let over = $state(false);
	let pending = $state(false);
	const busy = $derived(uploads.some((u) => u.state === 'waiting' || u.state === 'going'));

	function choose(files: FileList | null | undefined, slot: string | null = null) {
		for (const file of files ?? []) uploads.push({ key: crypto.randomUUID(), file, slot, state: 'waiting', percent: 0, message: '', going: null });
		pump();
	}
	/** Starts waiting uploads, a few at a time: a phone's line is thin. */
	function pump() {
		const going = uploads.filter((u) => u.state === 'going').length;
		for (const upload of uploads.filter((u) => u.state === 'waiting').slice(0, Math.max(0, AT_ONCE - going))) start(upload);
	}
	function start(upload: Upload) {
		upload.state = 'going';
		upload.percent = 0;
		upload.message = '';
		const going = uploadPaper(`${home}/item/${itemId}`, upload.file, upload.slot, {
			onProgress: (percent) => (upload.percent = percent),
			onWaiting: (waiting) => (upload.message = waiting ? say('item.paper.goesOn') : '')
		});
		upload.going = going;
		void going.done.then(async (refused) => {
			if (refused) {
				upload.state = 'failed';
				upload.message = refused.problem || say('item.paper.lost');
			} else {
				await invalidateAll();
				uploads = uploads.filter((u) => u.key !== upload.key);
			}
			pump();
		});
	}
	function cancel(upload: Upload) {
		if (upload.going && upload.state === 'going') {
			upload.going.cancel();
			upload.state = 'cancelled';
			upload.message = say('item.paper.cancelled');
			pump();
		} else uploads = uploads.filter((u) => u.key !== upload.key);
	}
	function ondrop(event: DragEvent) {
		event.preventDefault();
		over = false;
		choose(event.dataTransfer?.files);
	}
</script>

<svelte:window
	ondragover={(event) => {
		event.preventDefault();
		over = true;
	}}
	ondragleave={(event) => {
		if (!event.relatedTarget) over = false;
	}}
	{ondrop}
/>

{#if slots.length > 0}
	<ul class="mt-4 border-t border-(--rule-strong)">
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
						onchange={(event) => {
							choose(event.currentTarget.files, slot.name);
							event.currentTarget.value = '';
						}}
					/>{filled.length > 0 ? '+' : say('item.slot.add', { name: '' }).replace(/[\s:]+$/, '')}</label
				>
			</li>
		{/each}
	</ul>
{/if}
<div class="drop mt-4" class:over>
	<label class="act {papers.length > 0 || !handsIn ? 'act-second' : ''} w-full">
		<input
			type="file"
			multiple
			class="sr"
			onchange={(event) => {
				choose(event.currentTarget.files);
				event.currentTarget.value = '';
			}}
		/>
		{say('item.paper.choose')}
	</label>
	<label class="act act-second photo mt-2 w-full">
		<input
			type="file"
			accept="image/*"
			capture="environment"
			class="sr"
			onchange={(event) => {
				choose(event.currentTarget.files);
				event.currentTarget.value = '';
			}}
		/>
		{say('item.paper.photo')}
	</label>
	<p class="mt-2 text-center text-sm text-(--half)"><span class="hidden sm:inline">{say('item.paper.drop')}. </span>{say('item.paper.limits')}</p>
</div>

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
				{#if upload.message}<span class="block text-sm" role="alert">{upload.message}</span>{/if}
			</span>
			<span class="text-sm whitespace-nowrap text-(--half)">
				{#if upload.state === 'going'}{say('item.paper.uploading', { percent: upload.percent, size: sizeWords(locale, upload.file.size) })}
				{:else if upload.state === 'waiting'}{say('item.paper.waiting')}
				{:else}<button class="act-link" onclick={() => start(upload)} aria-label={say('item.paper.retry', { name: upload.file.name })}>↻</button>{/if}
			</span>
			<button class="icon" onclick={() => cancel(upload)} aria-label={say('item.paper.cancel', { name: upload.file.name })}>×</button>
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
		<button class="act w-full" disabled={busy || pending}>{say('item.paper.handIn', { count: papers.length })}</button>
	</form>
{/if}

<style>
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
