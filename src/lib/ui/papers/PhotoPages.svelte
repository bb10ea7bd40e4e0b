<script lang="ts">
	import { onDestroy, tick } from 'svelte';
	import { sayer } from '$lib/words/words';
	import type { WordKey } from '$lib/words/words';
	import { pdfOfPhotos, photoPage, type PhotoPage } from './photos-to-pdf';
	import { takesFiles } from './uploads.svelte';

	/** Photographs of pages, put in order and turned, that go in as one PDF. */
	let { take, locale }: { /** told the PDF */ take: (files: File[]) => void; locale: string } = $props();
	const say = $derived(sayer(locale));
	const PAGES_MOST = 40;
	let open = $state(false);
	let pages = $state<PhotoPage[]>([]);
	let name = $state('');
	let busy = $state(false);
	let problem = $state<{ key: WordKey; values?: Record<string, string | number> } | null>(null);
	let panel = $state<HTMLElement>();

	async function begin() {
		open = true;
		await tick();
		panel?.querySelector('h2')?.focus();
	}
	async function add(files: Iterable<File>) {
		problem = null;
		busy = true;
		// one after the other: two photographs at once are too much for a small phone
		for (const file of files) {
			if (pages.length >= PAGES_MOST) {
				problem = { key: 'pages.most', values: { max: PAGES_MOST } };
				break;
			}
			try {
				pages.push(await photoPage(file));
			} catch {
				problem = { key: 'pages.unreadable', values: { name: file.name } };
			}
		}
		busy = false;
	}
	function remove(page: PhotoPage) {
		URL.revokeObjectURL(page.url);
		pages = pages.filter(({ key }) => key !== page.key);
	}
	async function move(index: number, by: -1 | 1, button: HTMLElement) {
		[pages[index], pages[index + by]] = [pages[index + by], pages[index]];
		await tick();
		button.focus();
	}
	function close() {
		for (const { url } of pages) URL.revokeObjectURL(url);
		pages = [];
		name = '';
		problem = null;
		open = false;
	}
	async function make() {
		busy = true;
		problem = null;
		try {
			const file = await pdfOfPhotos(pages, name.trim() || say('pages.unnamed'));
			close();
			take([file]);
		} catch {
			problem = { key: 'pages.failed' };
		}
		busy = false;
	}
	onDestroy(() => {
		for (const { url } of pages) URL.revokeObjectURL(url);
	});
</script>

<!-- they are only on this device until they are put together -->
<svelte:window onbeforeunload={(event) => pages.length > 0 && event.preventDefault()} />

{#if !open}<p class="scripts mt-2 text-center"><button type="button" class="act-link" onclick={begin}>{say('pages.begin')}</button></p>
{:else}
	<section class="scripts panel mt-3" bind:this={panel} aria-label={say('pages.begin')}>
		<h2 class="text-[1.1rem]" tabindex="-1">{say('pages.begin')}</h2>
		<p class="text-[0.92rem] text-(--half)">{say('pages.lead')}</p>
		{#if problem}<p class="notice-wrong mt-2" role="alert">{say(problem.key, problem.values)}</p>{/if}
		<ol class="mt-2">
			{#each pages as page, index (page.key)}
				{@const n = index + 1}
				<li class="flex items-center border-b border-(--rule-strong) py-2">
					<span class="picture"><img src={page.url} alt={say('pages.page', { n })} style="rotate: {page.turn}deg" /></span>
					<span class="flex-1 pl-2">{say('pages.page', { n })}</span>
					<button type="button" class="icon" aria-label={say('pages.turn', { n })} onclick={() => (page.turn = (page.turn + 90) % 360)}>↻</button>
					<button
						type="button"
						class="icon"
						aria-label={say('pages.earlier', { n })}
						disabled={index === 0}
						onclick={(event) => move(index, -1, event.currentTarget)}>↑</button
					>
					<button
						type="button"
						class="icon"
						aria-label={say('pages.later', { n })}
						disabled={index === pages.length - 1}
						onclick={(event) => move(index, 1, event.currentTarget)}>↓</button
					>
					<button type="button" class="icon" aria-label={say('pages.remove', { n })} onclick={() => remove(page)}>×</button>
				</li>
			{/each}
		</ol>
		<div class="mt-3 grid gap-2">
			<label class="act act-second camera w-full"
				><input type="file" accept="image/*" capture="environment" class="sr" disabled={busy} {@attach takesFiles((files) => void add([...files]))} />
				{say('pages.photo')}</label
			>
			<label class="act act-second w-full"
				><input type="file" accept="image/*" multiple class="sr" disabled={busy} {@attach takesFiles((files) => void add([...files]))} />
				{say('pages.choose')}</label
			>
			{#if pages.length > 0}
				<label class="field"
					><span>{say('pages.name')}</span><input bind:value={name} maxlength="120" placeholder={say('pages.unnamed')} autocomplete="off" /></label
				>
				<button type="button" class="act w-full" disabled={busy} onclick={make}
					>{busy ? say('pages.making') : say('pages.make', { count: pages.length })}</button
				>
			{/if}
			<p class="text-center"><button type="button" class="act-link" onclick={close}>{say('pages.leave')}</button></p>
		</div>
	</section>
{/if}

<style>
	@media (scripting: none) {
		.scripts {
			display: none;
		}
	}
	.panel {
		padding: 12px 14px;
		border: 1px solid var(--rule-strong);
		border-radius: 8px;
		background: #fffefb;
	}
	h2:focus {
		outline: none;
	}
	.icon {
		width: 40px;
		height: 44px;
		font-size: 1.15rem;
		color: var(--act);
	}
	.icon:disabled {
		color: var(--rule-strong);
	}
	.picture {
		display: grid;
		place-items: center;
		width: 64px;
		height: 64px;
	}
	img {
		max-width: 60px;
		max-height: 60px;
		border: 1px solid var(--rule-strong);
	}
	label.act:focus-within {
		outline: 3px solid var(--ink);
		outline-offset: 2px;
	}
	.act-second {
		background: #fffefb;
		color: var(--act);
	}
	.camera {
		display: none;
	}
	@media (pointer: coarse) {
		.camera {
			display: flex;
		}
	}
</style>
