<script lang="ts">
	import PaperTable from '$lib/ui/papers/PaperTable.svelte';

	let { data } = $props();
	const query = $derived(data.query);
	const filtered = $derived(Boolean(query.typed || query.seen || query.kind || query.from || query.to));
	const before = (id: string) => {
		const { typed, seen, kind, from, to } = query;
		const address = new URLSearchParams();
		for (const [name, value] of Object.entries({ find: typed, seen, kind, from, to, before: id })) if (value) address.set(name, value);
		return `?${address}`;
	};
</script>

<svelte:head><title>Papers · {data.firm.name}</title></svelte:head>

<main id="sheet" class="sheet choosing" tabindex="-1">
	<div class="masthead">
		<p class="text-sm"><a class="act-link" href="/desk/clients">Clients</a></p>
		<h1 class="text-[1.65rem] leading-tight">Papers of all clients</h1>
		<form class="mt-2 flex flex-wrap items-end gap-x-4 gap-y-2" data-sveltekit-keepfocus role="search">
			<label class="field grow"
				><span>Find by name, note, who sent it, words or a sum inside</span><input
					name="find"
					type="search"
					value={query.typed}
					maxlength="200"
				/></label
			>
			<label class="field"
				><span>Kind</span><select name="kind" value={query.kind ?? ''}>
					<option value="">any</option><option value="pdf">PDF</option><option value="picture">picture</option><option value="text"
						>text or bank file</option
					><option value="other">spreadsheet, document, other</option>
				</select></label
			>
			<label class="field"
				><span>Who sees it</span><select name="seen" value={query.seen ?? ''}>
					<option value="">all</option><option value="client">the client sees it</option><option value="ours">not shown</option>
				</select></label
			>
			<label class="field"><span>Came from</span><input name="from" type="date" value={query.from ?? ''} /></label>
			<label class="field"><span>to</span><input name="to" type="date" value={query.to ?? ''} /></label>
			<button class="act">Find</button>
		</form>
	</div>
	{#if data.papers.length === 0}
		<p class="py-6 pr-4 pl-4 text-(--half) md:pl-[104px]">
			{#if filtered}Nothing has all of this. Scans have no words inside that can be read. <a class="act-link" href="/desk/clients/papers"
					>Show all papers</a
				>
			{:else if query.before}These were all.{:else}No papers yet.{/if}
		</p>
	{:else}
		<PaperTable papers={data.papers} clients />
		{#if data.more}<p class="py-3 pl-4 md:pl-[104px]"><a class="act-quiet" href={before(data.papers.at(-1)!.id)}>What came before</a></p>{/if}
	{/if}
</main>
