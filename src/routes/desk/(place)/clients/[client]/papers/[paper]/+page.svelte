<script lang="ts">
	import { untrack } from 'svelte';
	import { goto } from '$app/navigation';
	import { FOUND_MOST, type FoundOnPage } from '$lib/core/papers/find-in-pages';
	import { isViewable, shownAs } from '$lib/core/papers/file-name';
	import { ITEM_STATE_SHORT } from '$lib/core/requests/item-states';
	import { enhancedForm } from '$lib/ui/forms/enhanced-form';
	import PaperView from '$lib/ui/papers/PaperView.svelte';
	import FileRows from '$lib/ui/papers/FileRows.svelte';
	import FolderChoice from '$lib/ui/papers/FolderChoice.svelte';
	import { addUploads, takesFiles, uploadsOf } from '$lib/ui/papers/uploads.svelte';
	import { dateWords, sizeWords } from '$lib/words/dates';

	let { data } = $props();
	const paper = $derived(data.paper);
	const at = $derived(`/desk/clients/${data.client.id}/papers`);
	const src = $derived(`/desk/papers/${paper.id}`);
	const given = $derived(`${at}/given`);
	const mayFile = $derived(data.acts.includes('file_papers'));
	const mayShow = $derived(data.acts.includes('share_papers'));
	const newest = $derived(data.versions[0]);
	const isNewest = $derived(newest?.id === paper.id);
	const settled = $derived(paper.place === 'kept' || paper.place === 'item');
	let problem = $state('');
	let pending = $state(false);
	let naming = $state(false);
	let moving = $state(false);
	let target = $state(untrack(() => data.paper.folderId ?? ''));
	let versionShown = $state(untrack(() => (data.paper.shown ? 'told' : 'no')));
	const handling = {
		onPending: (begins: boolean) => (pending = begins),
		onProblem: (what: { message: string }) => void (problem = what.message),
		onSuccess: () => {
			problem = '';
			naming = false;
			moving = false;
		}
	};
	const names = (people: readonly { name: string }[]) => people.map(({ name }) => name).join(', ');
	const opened = $derived(data.seenBy.filter((one) => one.opened));
	const unopened = $derived(data.seenBy.filter((one) => !one.opened));
	const ZOOMS = [1, 1.25, 1.5, 2, 3];
	let zoom = $state(1);
	let turn = $state(0);
	/** its pages in small beside it */
	let strip = $state(false);
	let looking = $state('');
	let current = $state(0);
	let found = $state.raw<FoundOnPage[]>([]);
	const isPdf = $derived(paper.contentType === 'application/pdf');
	/** leads to the next place, from the last one to the first */
	const next = (by: -1 | 1) => found.length > 0 && (current = (current + by + found.length) % found.length);
	const foundWords = $derived(
		looking.trim() === ''
			? ''
			: found.length === 0
				? 'not found'
				: `${Math.min(current + 1, found.length)} of ${found.length}${found.length === FOUND_MOST ? ' or more' : ''}`
	);
	const step = (by: -1 | 1) => (zoom = ZOOMS[Math.min(ZOOMS.length - 1, Math.max(0, ZOOMS.indexOf(zoom) + by))]);
	const comparable = $derived(data.others.filter(({ contentType }) => shownAs(contentType) !== null));
	const layBeside = (id: string) => goto(id ? `${at}/${paper.id}?beside=${id}` : `${at}/${paper.id}`, { keepFocus: true, noScroll: true });
	function addVersion(files: Iterable<File>) {
		const [file] = files;
		if (!file) return;
		const slot = new URLSearchParams({ showing: versionShown, versionOf: paper.id }).toString();
		void addUploads({ at: given, title: 'Papers', slot }, [file], []);
	}
</script>

<svelte:head><title>{paper.name} · {data.client.name}</title></svelte:head>

<main id="sheet" class="sheet page" tabindex="-1">
	<section class="looking" aria-label="The paper">
		{#if paper.keptApart}<p class="p-6">It is kept apart: {paper.keptApart} was found in it. An administrator can remove it, or let it out.</p>
		{:else if shownAs(paper.contentType)}
			<div class="tools">
				{#if shownAs(paper.contentType) === 'pages'}
					<button class="act-quiet" disabled={zoom <= ZOOMS[0]} onclick={() => step(-1)}>Smaller</button>
					<button class="act-quiet" disabled={zoom >= ZOOMS.at(-1)!} onclick={() => step(1)}>Larger</button>
					<button class="act-quiet" onclick={() => (turn = (turn + 90) % 360)}>Turn</button>
				{/if}
				{#if isPdf}
					{#if (data.pages ?? 2) > 1}<button class="act-quiet" aria-pressed={strip} onclick={() => (strip = !strip)}>Pages</button>{/if}
					<form
						class="flex min-w-0 items-center gap-2 text-sm"
						role="search"
						onsubmit={(event) => {
							event.preventDefault();
							next(1);
						}}
					>
						<input
							class="line-input !w-36 min-w-0"
							placeholder="Find in it"
							aria-label="Find in it"
							bind:value={looking}
							oninput={() => (current = 0)}
							onkeydown={(event) => {
								if (event.key === 'Enter' && event.shiftKey) {
									event.preventDefault();
									next(-1);
								} else if (event.key === 'Escape') looking = '';
							}}
						/>
						<span class="whitespace-nowrap text-(--half)" role="status">{foundWords}</span>
						{#if found.length > 1}<button class="act-quiet !px-2" aria-label="Next place">↓</button><button
								type="button"
								class="act-quiet !px-2"
								aria-label="Place before"
								onclick={() => next(-1)}>↑</button
							>{/if}
					</form>
				{/if}
				{#if comparable.length > 0}<label class="ml-auto flex min-w-0 items-center gap-2 text-sm"
						><span class="whitespace-nowrap">Beside it</span><select
							class="min-w-0"
							value={data.beside?.id ?? ''}
							onchange={(event) => layBeside(event.currentTarget.value)}
							><option value="">nothing</option>{#each comparable as other (other.id)}<option value={other.id}
									>{other.name}, {other.version ? 'another version, ' : ''}{other.came}</option
								>{/each}</select
						></label
					>{/if}
			</div>
			<div class="windows" class:two={data.beside !== null} class:stripped={strip && isPdf}>
				<PaperView {paper} {src} {zoom} {turn} fills strip={strip && isPdf} {looking} {current} bind:found />
				{#if data.beside}<PaperView paper={data.beside} src="/desk/papers/{data.beside.id}" {zoom} {turn} fills />{/if}
			</div>
		{:else}<p class="p-6 text-(--half)">A file of this kind is not shown here. Download it to look at it.</p>{/if}
	</section>
	<aside class="about">
		<p class="text-sm"><a class="act-link" href={at}>Papers of {data.client.name}</a></p>
		<h1 class="mt-1 text-[1.35rem] leading-tight wrap-anywhere">{paper.name}</h1>
		{#if paper.note}<p class="mt-1">“{paper.note}”</p>{/if}
		{#if problem}<p class="notice-wrong mt-2" role="alert">{problem}</p>{/if}
		{#if !isNewest && newest}<p class="notice-lamp mt-2">
				There is a newer version: <a class="act-link" href="{at}/{newest.id}">{newest.name}</a>.
			</p>{/if}
		<dl class="facts mt-3 text-[0.88rem]">
			<div>
				<dt>who sees it</dt>
				<dd>
					{#if paper.shown && !paper.closed}
						<b class="text-(--act)">the client sees it</b>
						{#if opened.length > 0}<span class="block">opened by {names(opened)}</span>{/if}
						{#if unopened.length > 0}<span class="block text-(--half)"
								>not opened yet by {names(unopened)}{unopened.some(({ toBeTold }) => toBeTold)
									? ', who will be told with the day’s message'
									: ''}</span
							>{/if}
						{#if data.seenBy.length === 0}<span class="block text-(--lamp-deep)">nobody of the client is there yet who could</span>{/if}
					{:else if paper.shown}<span class="text-(--lamp-deep)">it was shown, but lies in a folder that is ours only</span>
					{:else if paper.ours || paper.place === 'kept' || paper.place === 'away'}ours only
					{:else}who sent it{/if}
				</dd>
			</div>
			<div>
				<dt>came</dt>
				<dd>{data.came}{paper.sender ? `, ${paper.ours ? 'added by' : 'from'} ${paper.sender}` : ''}</dd>
			</div>
			<div>
				<dt>where</dt>
				<dd>
					{#if paper.place === 'item'}<a class="underline decoration-dotted" href="/desk/clients/{data.client.id}/item/{paper.itemId}"
							>{paper.title}</a
						>
						<span class="text-(--half)">{ITEM_STATE_SHORT[paper.state!]}</span>
					{:else if !settled && paper.place !== 'away'}<a class="act-link" href="/desk/rounds/arrival-{paper.id}">has no place yet</a>
					{:else if paper.place === 'away'}put away{/if}
					{#if paper.folder}<span class="block">folder {paper.folder}</span>{:else if paper.place === 'kept'}in no folder{/if}
				</dd>
			</div>
			{#if data.keeping && (data.keeping.keptUntil || data.keeping.destroyOn || data.keeping.heldBack)}<div>
					<dt>kept</dt>
					<dd>
						{#if data.keeping.destroyOn}<b class="text-(--lamp-deep)">will be destroyed on {dateWords('en', data.keeping.destroyOn, 'withYear')}</b
							>{#if data.keeping.heldBack}, but everything of this client is kept{/if}
						{:else if data.keeping.heldBack}with everything of this client, without end
						{:else}until {dateWords('en', data.keeping.keptUntil!, 'withYear')}{/if}
					</dd>
				</div>{/if}
			<div>
				<dt>file</dt>
				<dd>{sizeWords('en', paper.bytes)}{data.pages ? `, ${data.pages === 1 ? 'one page' : `${data.pages} pages`}` : ''}</dd>
			</div>
		</dl>
		<p class="mt-3 flex flex-wrap gap-x-4 text-sm">
			{#if isViewable(paper.contentType)}<a class="act-link" href={src} target="_blank" rel="noopener">Open in a tab of its own, to print</a>{/if}
			<a class="act-link" href="{src}?download" download>Download</a>
		</p>
		{#if settled && mayShow && isNewest}
			<form method="post" action="?/show" class="mt-3 flex flex-wrap gap-2" {@attach enhancedForm(handling)}>
				{#if paper.shown}<button class="act-quiet" formaction="?/hide" disabled={pending}>Hide it from the client</button>
				{:else}<button class="act" disabled={pending}>Show it, and tell them</button>
					<button class="act-quiet" formaction="?/showQuietly" disabled={pending}>Show it quietly</button>{/if}
			</form>
		{/if}
		{#if mayFile && (settled || paper.place === 'away')}
			<div class="mt-2 flex flex-wrap gap-2">
				<button class="act-quiet" aria-expanded={naming} onclick={() => (naming = !naming)}>Name and note …</button>
				<button class="act-quiet" aria-expanded={moving} onclick={() => (moving = !moving)}>Move …</button>
				{#if paper.place === 'kept'}<form method="post" action="?/putAway" {@attach enhancedForm(handling)}>
						<button class="act-quiet" disabled={pending}>Put away</button>
					</form>
				{:else if paper.place === 'away'}<form method="post" action="?/bringBack" {@attach enhancedForm(handling)}>
						<button class="act-quiet" disabled={pending}>Bring back</button>
					</form>{/if}
			</div>
			{#if naming}<form method="post" action="?/describe" class="mt-3 space-y-2" {@attach enhancedForm(handling)}>
					<label class="field"><span>Name</span><input name="name" value={paper.name} maxlength="180" /></label>
					<label class="field"><span>Note</span><input name="note" value={paper.note} maxlength="300" /></label>
					<p class="text-xs text-(--half)">Whoever sees the paper sees its name{paper.ours ? ' and its note' : ''}.</p>
					<button class="act" disabled={pending}>Save</button>
				</form>{/if}
			{#if moving}<form method="post" action="?/move" class="mt-3 space-y-2" {@attach enhancedForm(handling)}>
					<FolderChoice folders={data.folders} proposed={data.proposed} bind:value={target} label="Into" />
					<button class="act" disabled={pending || target === '+'}>Move</button>
				</form>{/if}
			{#if isNewest && paper.place === 'kept'}
				<div class="mt-4 border-t border-(--rule) pt-3">
					<p class="text-sm text-(--half)">A newer version takes its place in every list. This one can be read as an earlier version.</p>
					<div class="mt-1 flex flex-wrap items-end gap-3">
						<label class="field"
							><span>Who sees the newer one</span><select bind:value={versionShown} disabled={!mayShow}>
								<option value="no">ours only</option>
								<option value="told">the client, told with the day’s message</option>
								<option value="quietly">the client, quietly</option>
							</select></label
						>
						<label class="act-quiet"><input type="file" class="sr" {@attach takesFiles(addVersion)} />Add a newer version</label>
					</div>
					<FileRows papers={[]} uploads={uploadsOf(given)} home="" locale="en">{#snippet remove()}{/snippet}</FileRows>
				</div>
			{/if}
		{/if}
		{#if data.versions.length > 1}
			<h2 class="mt-4 text-[1.05rem]">Versions</h2>
			<ul class="text-[0.86rem]">
				{#each data.versions as version, index (version.id)}<li class="border-b border-(--rule) py-1">
						<a class="act-link" href="{at}/{version.id}" aria-current={version.id === paper.id ? 'true' : undefined}>{version.name}</a>
						<span class="text-(--half)"
							>{index === 0 ? 'the newest, ' : ''}{version.came}{version.by ? `, ${version.by}` : ''}{version.shown
								? '; the client sees it'
								: ''}</span
						>
					</li>{/each}
			</ul>
		{/if}
		<h2 class="mt-4 text-[1.05rem]">What became of it</h2>
		<ul class="text-[0.86rem]">
			{#each data.history as one (one.key)}<li class="border-b border-(--rule) py-1">
					{one.by}
					{one.words} <span class="text-(--half)">{one.at}</span>
				</li>{/each}
		</ul>
	</aside>
</main>

<style>
	.page {
		display: grid;
		grid-template-columns: minmax(0, 1fr) minmax(290px, 380px);
		min-height: calc(100dvh - 47px);
		background: var(--sheet);
		outline: none;
	}
	.looking {
		background: var(--rule);
		border-right: 1px solid var(--rule-strong);
	}
	.tools {
		position: sticky;
		top: 47px;
		z-index: 1;
		display: flex;
		align-items: center;
		gap: 8px;
		height: 50px;
		padding: 0 14px;
		border-bottom: 1px solid var(--rule-strong);
		background: var(--leaf);
	}
	.windows {
		position: sticky;
		top: 97px;
		display: grid;
		grid-template-columns: minmax(0, 1fr);
		height: calc(100dvh - 97px);
	}
	.two {
		grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
	}
	.stripped {
		grid-template-columns: 108px minmax(0, 1fr);
	}
	.two.stripped {
		grid-template-columns: 108px minmax(0, 1fr) minmax(0, 1fr);
	}
	.about {
		padding: 14px 20px 40px;
	}
	label:has(input[type='file']:focus-visible) {
		outline: 2px solid var(--ink);
		outline-offset: 2px;
	}
	@media (max-width: 900px) {
		.page {
			grid-template-columns: minmax(0, 1fr);
		}
		.about {
			grid-row: 1;
		}
		.tools,
		.windows {
			position: static;
		}
		.windows {
			height: 80dvh;
		}
	}
</style>
