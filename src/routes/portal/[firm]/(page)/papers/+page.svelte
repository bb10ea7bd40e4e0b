<script lang="ts">
	import FileRows from '$lib/ui/papers/FileRows.svelte';
	import { addUploads, takesFiles, uploadsOf } from '$lib/ui/papers/uploads.svelte';
	import { sizeWords } from '$lib/words/dates';
	import { sayer } from '$lib/words/words';

	let { data } = $props();
	const say = $derived(sayer(data.locale));
	const several = $derived(
		new Set([...data.papers.map(({ clientName }) => clientName), ...data.adding.map(({ clientName }) => clientName)]).size > 1
	);
	const send = $derived(`${data.home}/send`);
	/** folder by folder; of folders that are open for it also the empty ones, so that there is where to add */
	const groups = $derived.by(() => {
		const found: { key: string; name: string; client: string; papers: typeof data.papers; add: (typeof data.adding)[number] | null }[] = [];
		const groupOf = (name: string | null, client: string) => {
			const key = `${client} / ${name ?? ''}`;
			let group = found.find((one) => one.key === key);
			if (!group) found.push((group = { key, name: name ?? '', client, papers: [], add: null }));
			return group;
		};
		for (const paper of data.papers) groupOf(paper.folder, paper.clientName).papers.push(paper);
		if (!data.typed) for (const folder of data.adding) groupOf(folder.name, folder.clientName).add = folder;
		return found.toSorted((a, b) => a.client.localeCompare(b.client, data.locale) || a.name.localeCompare(b.name, data.locale));
	});
	const slotOf = (folder: { id: string; clientId: string }) => `${folder.clientId}.${folder.id}`;
	const add = (folder: (typeof data.adding)[number], files: Iterable<File>) =>
		void addUploads({ at: send, title: folder.name, slot: slotOf(folder) }, [...files], []);
	const uploads = $derived(uploadsOf(send));
</script>

<svelte:head><title>{say('papers.title')} · {data.brand.name}</title></svelte:head>

<p><a class="act-link" href={data.home}>← {say('portal.back')}</a></p>
<h1 class="mt-1 text-[1.65rem] leading-tight">{say('papers.title')}</h1>
<p class="mt-1 text-(--half)">{say('papers.lead', { firm: data.brand.name })}</p>
{#if data.papers.length > 5 || data.typed}
	<form class="mt-4 flex items-end gap-3" role="search" data-sveltekit-keepfocus>
		<label class="field flex-1"><span>{say('papers.find')}</span><input name="find" type="search" value={data.typed} maxlength="200" /></label>
		<button class="act-quiet">{say('papers.findAct')}</button>
	</form>
{/if}
{#if data.papers.length === 0}
	<p class="mt-4">
		{#if data.typed}{say('papers.nothingFound')} <a class="act-link" href="{data.home}/papers">{say('papers.findAll')}</a>{:else}{say(
				'papers.none'
			)}{/if}
	</p>
{/if}
{#each groups as group (group.key)}
	<section class="mt-6">
		{#if groups.length > 1 || group.name}<h2 class="text-[1.1rem]">
				{group.name || say('papers.noFolder')}{#if several}<span class="ml-2 font-sans text-[0.92rem] font-normal text-(--half)">{group.client}</span
					>{/if}
			</h2>{/if}
		<ul class="mt-1 border-t border-(--rule-strong)">
			{#each group.papers as paper (paper.id)}
				<li class="border-b border-(--rule-strong) py-2">
					<a class="paper" href="{data.home}/papers/{paper.id}" target="_blank" rel="noopener">
						<span class="min-w-0 font-semibold wrap-anywhere underline underline-offset-4">{paper.name}</span>
						{#if paper.isNew}<b class="new">{say('papers.new')}</b>{/if}
						<span class="ml-auto text-[0.88rem] whitespace-nowrap text-(--half)">{sizeWords(data.locale, paper.bytes)}</span>
					</a>
					<p class="text-[0.9rem] text-(--half)">
						{paper.mine ? say('papers.mine', { date: paper.on, firm: data.brand.name }) : say('papers.shown', { date: paper.on })}
					</p>
					{#if paper.note}<p class="text-[0.95rem]">{paper.note}</p>{/if}
					{#each paper.earlier as old (old.id)}<a class="act-link block py-1 text-[0.9rem]" href="{data.home}/papers/{old.id}"
							>{say('papers.earlier', { date: old.on })}</a
						>{/each}
				</li>
			{/each}
		</ul>
		{#if group.add && !data.person.lookedAtBy}
			{@const folder = group.add}
			<label class="act-quiet mt-2"
				><input type="file" multiple class="sr" {@attach takesFiles((files) => add(folder, files))} />{say('papers.add', {
					folder: folder.name
				})}</label
			>
			<FileRows papers={[]} uploads={uploads.filter(({ slot }) => slot === slotOf(folder))} home={data.home} locale={data.locale}
				>{#snippet remove()}{/snippet}</FileRows
			>
		{/if}
	</section>
{/each}

<style>
	.paper {
		display: flex;
		align-items: center;
		gap: 0.6rem;
		min-height: 44px;
		text-decoration: none;
	}
	.new {
		padding: 0 0.4rem;
		border: 1px solid var(--act);
		border-radius: 4px;
		font-size: 0.8rem;
		color: var(--act);
	}
	label:has(input[type='file']:focus-visible) {
		outline: 3px solid var(--ink);
		outline-offset: 2px;
	}
</style>
