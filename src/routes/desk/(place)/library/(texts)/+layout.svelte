<script lang="ts">
	import { page } from '$app/state';
	import { beginningOf, MESSAGE_TEXT_KIND, MESSAGE_TEXT_KINDS } from '$lib/core/messages/message-texts';
	import LibraryShelves from '$lib/ui/library/LibraryShelves.svelte';
	import Sheet from '$lib/ui/desk/Sheet.svelte';

	let { data, children } = $props();
	const open = $derived(page.params.entry ?? page.params.key ?? (page.url.pathname.endsWith('/new') ? 'new' : undefined));
	const query = $derived(page.url.search);
	const link = (to: Record<string, string | null>) => {
		const wanted = new URLSearchParams();
		for (const [name, value] of Object.entries({ kind: data.kind, tag: data.tag, ...to })) if (value) wanted.set(name, value);
		const text = wanted.toString();
		return `/desk/library${text ? `?${text}` : ''}`;
	};
	const folders = $derived([...new Set(data.texts.map((text) => text.folder))]);
</script>

<svelte:head><title>Library · {data.firm.name}</title></svelte:head>

<Sheet leafOpen={open !== undefined} closeHref="/desk/library{query}" wideLeaf margin={118}>
	{#snippet sheet()}
		<div class="masthead">
			<div class="flex flex-wrap items-baseline gap-x-4 gap-y-2">
				<h1 class="text-[1.65rem] leading-tight">Library</h1>
				<p class="text-[0.88rem] text-(--half)">Words that are used again. Using them makes a copy; these stay as they are.</p>
				{#if data.mayKeep}<a class="{open ? 'act-quiet' : 'act'} ml-auto" href="/desk/library/new{query}">New text</a>{/if}
			</div>
			<LibraryShelves at="texts" />
			<nav class="mt-1 flex flex-wrap gap-1 text-sm" aria-label="Show only">
				<a class="only" href={link({ kind: null })} aria-current={data.kind === null ? 'true' : undefined}>all</a>
				{#each MESSAGE_TEXT_KINDS as kind (kind)}<a class="only" href={link({ kind })} aria-current={data.kind === kind ? 'true' : undefined}
						>{MESSAGE_TEXT_KIND[kind].short}</a
					>{/each}
			</nav>
			{#if data.shelves.tags.length > 0}
				<p class="mt-1 flex flex-wrap gap-x-3 text-[0.83rem] text-(--half)">
					<span>Tagged</span>{#each data.shelves.tags as tag (tag)}<a
							class={data.tag === tag ? 'font-bold' : 'underline decoration-dotted'}
							href={link({ tag: data.tag === tag ? null : tag })}
							aria-current={data.tag === tag ? 'true' : undefined}>{tag}</a
						>{/each}
				</p>
			{/if}
		</div>
		{#if data.texts.length === 0}<p class="py-6 pr-4 pl-[136px] text-(--half)">
				{data.kind || data.tag
					? 'Nothing of the firm’s own here yet.'
					: 'The firm has no texts of its own yet. Begin with one that is ready-made, or write one.'}
			</p>{/if}
		{#each folders as folder (folder)}
			<section aria-label={folder || 'Without a folder'}>
				<h2 class="section-head">{folder || 'Without a folder'}</h2>
				<ul>
					{#each data.texts.filter((text) => text.folder === folder) as text (text.id)}
						<li>
							<a
								class="ledger-row kind-row"
								href="/desk/library/{text.id}{query}"
								data-row
								data-sveltekit-noscroll
								aria-current={open === text.id ? 'true' : undefined}
							>
								<span class="kind">{MESSAGE_TEXT_KIND[text.kind].short}</span>
								<span class="min-w-0 truncate"><b>{text.name}</b> <span class="text-(--half)">{text.beginning}</span></span>
								<span class="aside"
									>{#if text.inUse}<b class="text-(--lamp-deep)">in use</b
										>{:else if text.shared === 'group'}{text.groupName}{:else if text.shared === 'person'}only
										{text.mine ? 'me' : text.madeBy}{/if}</span
								>
							</a>
						</li>
					{/each}
				</ul>
			</section>
		{/each}
		{#if data.ready.length > 0}
			<section aria-labelledby="ready">
				<h2 id="ready" class="section-head">Ready-made</h2>
				<ul>
					{#each data.ready as text (text.key)}
						<li>
							<a
								class="ledger-row kind-row"
								href="/desk/library/ready/{text.key}{query}"
								data-row
								data-sveltekit-noscroll
								aria-current={open === text.key ? 'true' : undefined}
							>
								<span class="kind">{MESSAGE_TEXT_KIND[text.kind].short}</span>
								<span class="min-w-0 truncate"><b>{text.name}</b> <span class="text-(--half)">{beginningOf(text.body)}</span></span>
								<span class="aside"></span>
							</a>
						</li>
					{/each}
				</ul>
			</section>
		{/if}
	{/snippet}
	{@render children()}
</Sheet>
