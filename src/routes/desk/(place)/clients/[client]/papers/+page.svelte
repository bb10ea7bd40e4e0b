<script lang="ts">
	import { untrack } from 'svelte';
	import { choosing } from '$lib/ui/desk/choosing.svelte';
	import { enhancedForm } from '$lib/ui/forms/enhanced-form';
	import DropArea from '$lib/ui/papers/DropArea.svelte';
	import FileRows from '$lib/ui/papers/FileRows.svelte';
	import FolderChoice from '$lib/ui/papers/FolderChoice.svelte';
	import RenamePanel from '$lib/ui/papers/RenamePanel.svelte';
	import PaperTable from '$lib/ui/papers/PaperTable.svelte';
	import { addUploads, takesFiles, uploadsOf } from '$lib/ui/papers/uploads.svelte';

	let { data } = $props();
	const at = $derived(`/desk/clients/${data.client.id}/papers`);
	const given = $derived(`${at}/given`);
	const chosen = choosing(untrack(() => `papers ${data.client.id}`));
	const picked = $derived(data.papers.filter(({ id }) => chosen.has(id)));
	const mayFile = $derived(data.acts.includes('file_papers'));
	const mayShow = $derived(data.acts.includes('share_papers'));
	const query = $derived(data.query);
	const open = $derived(data.folders.find(({ id }) => id === query.folder) ?? null);
	const filtered = $derived(query.typed !== '' || query.folder !== null || query.seen !== null);
	let problem = $state('');
	let said = $state('');
	let pending = $state(false);
	let adding = $state(false);
	/** what is being done with the papers that are ticked */
	let doing = $state<'move' | 'rename' | 'join' | null>(null);
	/** the paper that was made of others just now */
	let made = $state('');
	let joinedName = $state('');
	let folder = $state('');
	let showing = $state('no');
	let target = $state('');
	const counted = (n: number) => (n === 1 ? 'one paper' : `${n} papers`);
	const link = (to: Record<string, string | null>) => {
		const address = new URLSearchParams();
		for (const [name, value] of Object.entries({ find: query.typed, folder: query.folder, seen: query.seen, ...to }))
			if (value) address.set(name, value);
		return `${at}?${address}`;
	};
	const handling = {
		onPending: (begins: boolean) => (pending = begins),
		onProblem: (what: { message: string }) => {
			problem = what.message;
			said = '';
		},
		onSuccess: (answer: Record<string, unknown> | undefined) => {
			problem = '';
			said = String(answer?.said ?? '');
			made = String(answer?.made ?? '');
			doing = null;
			chosen.clear();
		}
	};
	function add(files: Iterable<File> | undefined) {
		const slot = new URLSearchParams({ folder: folder === '+' ? '' : folder, showing }).toString();
		void addUploads({ at: given, title: 'Papers', slot }, [...(files ?? [])], []);
		adding = true;
	}
	function startJoining() {
		doing = doing === 'join' ? null : 'join';
		joinedName ||= `${open?.name ?? 'Papers'} of ${data.client.name}`;
	}
	function startAdding() {
		adding = !adding;
		if (adding) folder = query.folder && query.folder !== 'none' ? query.folder : '';
	}
</script>

<svelte:head><title>Papers of {data.client.name} · {data.firm.name}</title></svelte:head>

{#snippet ids()}{#each picked as paper (paper.id)}<input type="hidden" name="paper" value={paper.id} />{/each}{/snippet}

<main id="sheet" class="sheet choosing" tabindex="-1">
	<div class="masthead">
		<p class="text-sm"><a class="act-link" href="/desk/clients/{data.client.id}">Back to {data.client.name}</a></p>
		<div class="mt-1 flex flex-wrap items-baseline gap-x-5 gap-y-1">
			<h1 class="text-[1.65rem] leading-tight">Papers</h1>
			<form class="flex items-center gap-3 text-sm" data-sveltekit-keepfocus role="search">
				{#if query.folder}<input type="hidden" name="folder" value={query.folder} />{/if}
				{#if query.seen}<input type="hidden" name="seen" value={query.seen} />{/if}
				<input
					class="line-input !w-64"
					name="find"
					type="search"
					value={query.typed}
					maxlength="200"
					placeholder="a name, a sender, words or a sum inside"
					aria-label="Find papers"
				/>
				<button class="act-quiet">Find</button>
			</form>
			<nav class="flex gap-1 text-sm" aria-label="Who sees them">
				<a class="only" href={link({ seen: null })} aria-current={query.seen === null ? 'true' : undefined}>All</a>
				<a class="only" href={link({ seen: 'client' })} aria-current={query.seen === 'client' ? 'true' : undefined}>The client sees</a>
				<a class="only" href={link({ seen: 'ours' })} aria-current={query.seen === 'ours' ? 'true' : undefined}>Not shown</a>
			</nav>
			<span class="ml-auto flex gap-2">
				{#if data.papers.length > 0}<a class="act-quiet" href="{at}/zip?all" download>Download all</a>{/if}
				{#if mayFile}<button class="act" aria-expanded={adding} onclick={startAdding}>Add papers</button>{/if}
			</span>
		</div>
		<nav class="mt-1 flex flex-wrap gap-1 text-sm" aria-label="Folders">
			<a class="only" href={link({ folder: null })} aria-current={query.folder === null ? 'true' : undefined}>Every folder</a>
			{#each data.folders as one (one.id)}<a class="only" href={link({ folder: one.id })} aria-current={query.folder === one.id ? 'true' : undefined}
					>{one.name} <span class="text-(--half)">{one.papers}{one.clientMay === 'nothing' ? ', ours' : ''}</span></a
				>{/each}
			<a class="only" href={link({ folder: 'none' })} aria-current={query.folder === 'none' ? 'true' : undefined}>In no folder</a>
			{#if mayFile}<a class="act-link ml-2 self-center" href="{at}/folders">Folders and who sees them</a>{/if}
		</nav>
		{#if open}<p class="mt-1 text-[0.84rem] text-(--half)">
				{open.clientMay === 'nothing'
					? `${open.name} is ours only: nothing in it is seen by the client.`
					: `The client sees what is shown in ${open.name}${open.clientMay === 'add' ? ', and may add to it' : ''}${open.contactIds ? `; it is for ${open.contactIds.length === 1 ? 'one person' : `${open.contactIds.length} people`} of them only` : ''}.`}
			</p>{/if}
		{#if problem}<p class="notice-wrong mt-2" role="alert">{problem}</p>{/if}
		{#if said}<p class="notice-lamp mt-2" role="status">
				{said}{#if made}<a class="act-link ml-2" href="{at}/{made}">Look at it</a>{/if}
			</p>{/if}
		{#if mayFile}
			<DropArea take={add}>
				{#snippet children(over)}
					{#if adding || over}
						<section class="adding mt-3" class:over aria-label="Add papers">
							<div class="flex flex-wrap items-end gap-x-4 gap-y-2">
								<FolderChoice folders={data.folders} proposed={data.proposed} bind:value={folder} label="Into" />
								<label class="field"
									><span>Who sees them</span><select bind:value={showing} disabled={!mayShow}>
										<option value="no">ours only</option>
										<option value="told">the client, told with the day’s message</option>
										<option value="quietly">the client, quietly</option>
									</select></label
								>
								<label class="act"><input type="file" multiple class="sr" {@attach takesFiles(add)} />Choose files</label>
								<span class="pb-2 text-sm text-(--half)">or drop them anywhere on this page; up to 200 MB each</span>
							</div>
						</section>
					{/if}
				{/snippet}
			</DropArea>
			<FileRows papers={[]} uploads={uploadsOf(given)} home="" locale="en">{#snippet remove()}{/snippet}</FileRows>
		{/if}
	</div>
	{#if data.papers.length === 0}
		<p class="py-6 pr-4 pl-4 text-(--half) md:pl-[104px]">
			{#if query.typed}Nothing here has all of these words. Scans have no words inside that can be read.
				<a class="act-link" href={at}>Show all papers</a>
			{:else if query.before}These were all.
			{:else if filtered}No papers here. <a class="act-link" href={at}>Show all papers</a>
			{:else}No papers yet. What you add is ours only until you show it.{/if}
		</p>
	{:else}
		<PaperTable papers={data.papers} chosen={mayFile ? chosen : null} />
		{#if data.more}<p class="py-3 pl-4 md:pl-[104px]">
				<a class="act-quiet" href={link({ before: data.papers.at(-1)!.id })}>What came before</a>
			</p>{/if}
	{/if}
	{#if mayFile && data.papers.length > 0}
		{#if doing === 'move' && picked.length > 0}
			<form method="post" action="?/move" class="panel" {@attach enhancedForm(handling)}>
				{@render ids()}
				<FolderChoice folders={data.folders} proposed={data.proposed} bind:value={target} label="Move {counted(picked.length)} to" />
				<button class="act" disabled={pending || target === '+'}>Move</button>
				<button type="button" class="act-link" onclick={() => (doing = null)}>Leave it</button>
			</form>
		{:else if doing === 'rename' && picked.length > 0}
			<RenamePanel
				papers={picked.map(({ id, name, cameOn, folder: lies }) => ({ id, name, came: cameOn, client: data.client.name, folder: lies ?? '' }))}
				action="?/rename"
				called={counted(picked.length)}
				{pending}
				{handling}
				leave={() => (doing = null)}
			/>
		{:else if doing === 'join' && picked.length > 1}
			<form method="post" action="?/join" class="panel" {@attach enhancedForm(handling)}>
				{@render ids()}
				<label class="field grow"
					><span>Join {counted(picked.length)} to one PDF, called</span><input
						name="name"
						bind:value={joinedName}
						maxlength="160"
						autocomplete="off"
					/></label
				>
				<button class="act" disabled={pending || joinedName.trim() === ''}>{pending ? 'Joining …' : 'Join'}</button>
				<button type="button" class="act-link" onclick={() => (doing = null)}>Leave it</button>
				<p class="w-full text-sm text-(--half)">
					It begins with a table of contents, in the order of this list, and is ours only until you show it. The papers themselves stay.
				</p>
			</form>
		{/if}
		<form method="post" action="?/show" class="bar" class:resting={picked.length === 0} {@attach enhancedForm(handling)}>
			{@render ids()}
			{#if picked.length === 0}<span class="text-(--half)">Choose papers to do something with all of them.</span>
			{:else}
				<b class="mr-2">{counted(picked.length).replace(/^o/, 'O')}</b>
				{#if mayShow}
					{#if picked.some(({ shown }) => !shown)}<button class="act" disabled={pending}>Show, and tell them</button>
						<button class="act-quiet" formaction="?/showQuietly" disabled={pending}>Show quietly</button>{/if}
					{#if picked.some(({ shown }) => shown)}<button class="act-quiet" formaction="?/hide" disabled={pending}>Hide</button>{/if}
				{/if}
				<button type="button" class="act-quiet" aria-expanded={doing === 'move'} onclick={() => (doing = doing === 'move' ? null : 'move')}
					>Move …</button
				>
				<button type="button" class="act-quiet" aria-expanded={doing === 'rename'} onclick={() => (doing = doing === 'rename' ? null : 'rename')}
					>Rename …</button
				>
				{#if picked.length > 1}<button type="button" class="act-quiet" aria-expanded={doing === 'join'} onclick={startJoining}>Join …</button>{/if}
				<a class="act-quiet" href="{at}/zip?{picked.map(({ id }) => `paper=${id}`).join('&')}" download>Download</a>
				{#if picked.every(({ place }) => place === 'away')}<button class="act-quiet" formaction="?/bringBack" disabled={pending}>Bring back</button
					>{:else}<button class="act-quiet" formaction="?/putAway" disabled={pending}>Put away</button>{/if}
				<button type="button" class="act-link ml-auto" onclick={() => chosen.clear()}>Choose none</button>
			{/if}
		</form>
	{/if}
</main>

<style>
	.adding {
		padding: 12px 14px;
		border: 1.5px dashed var(--rule-strong);
		border-radius: 6px;
		background: var(--leaf);
	}
	.over {
		border-color: var(--lamp-edge);
		background: var(--lamp-soft);
	}
	label:has(input[type='file']:focus-visible) {
		outline: 2px solid var(--ink);
		outline-offset: 2px;
	}
</style>
