<script lang="ts">
	import type { Snippet } from 'svelte';
	import type { PaperRow } from '$lib/server/items/read-items';
	import { sizeWords } from '$lib/words/dates';
	import { sayer } from '$lib/words/words';
	import { cancelUpload, startUpload, type Upload } from './uploads.svelte';

	/** The files that were added, and those that are on their way. */
	let {
		papers,
		uploads,
		home,
		locale,
		linked = true,
		remove
	}: {
		papers: PaperRow[];
		uploads: Upload[];
		home: string;
		locale: string;
		/** those that are there can be opened again */ linked?: boolean;
		/** takes one out again; told what that is called */ remove: Snippet<[paper: PaperRow, words: string]>;
	} = $props();
	const say = $derived(sayer(locale));
	const said = (upload: Upload) => (typeof upload.says === 'string' ? upload.says : upload.says ? say(upload.says.key, upload.says.values) : '');
</script>

<ul class="mt-4" aria-label={say('item.paper.list')} aria-live="polite">
	{#each papers as paper (paper.id)}
		<li class="line">
			{#if linked}<a class="min-w-0 truncate underline decoration-dotted underline-offset-4" href="{home}/papers/{paper.id}?download" download
					>{paper.name}</a
				>{:else}<span class="min-w-0 truncate">{paper.name}</span>{/if}
			<span class="text-sm whitespace-nowrap text-(--half)">{say('item.paper.arrived')} · {sizeWords(locale, paper.bytes)}</span>
			{@render remove(paper, say('item.paper.remove', { name: paper.name }))}
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
				{:else}<button
						type="button"
						class="act-link"
						onclick={() => startUpload(upload)}
						aria-label={say('item.paper.retry', { name: upload.file.name })}>↻</button
					>{/if}
			</span>
			<button type="button" class="icon" onclick={() => cancelUpload(upload)} aria-label={say('item.paper.cancel', { name: upload.file.name })}
				>×</button
			>
		</li>
	{/each}
</ul>

<style>
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
	.line :global(.icon) {
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
