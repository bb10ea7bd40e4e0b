<script lang="ts">
	import { enhancedForm } from '$lib/ui/forms/enhanced-form';
	import LibraryShelves from '$lib/ui/library/LibraryShelves.svelte';

	let { data } = $props();
	let problem = $state('');
	const folders = $derived([...new Set(data.lists.map((list) => list.folder))]);
</script>

<svelte:head><title>Request lists · {data.firm.name}</title></svelte:head>

<main id="sheet" class="sheet shelf" tabindex="-1">
	<div class="masthead">
		<div class="flex flex-wrap items-baseline gap-x-4 gap-y-2">
			<h1 class="text-[1.65rem] leading-tight">Library</h1>
			<p class="text-[0.88rem] text-(--half)">
				Everything one might ask. For each client a list is made to fit before it goes; the list itself stays.
			</p>
			{#if data.mayKeep}
				<form method="post" action="?/make" class="ml-auto" {@attach enhancedForm({ onProblem: (p) => (problem = p.message) })}>
					<button class="act">New list</button>
				</form>
			{/if}
		</div>
		<LibraryShelves at="lists" />
		{#if problem}<p class="notice-wrong mt-2" role="alert">{problem}</p>{/if}
	</div>
	{#if data.lists.length === 0}<p class="py-6 pl-[136px] text-(--half)">
			The firm has no lists of its own yet. Copy a ready-made one and change it.
		</p>{/if}
	{#each folders as folder (folder)}
		<h2 class="section-head">{folder || 'The firm’s own'}</h2>
		<ul>
			{#each data.lists.filter((list) => list.folder === folder) as list (list.id)}
				<li>
					<a class="ledger-row kind-row" href="/desk/library/lists/{list.id}" data-row>
						<span class="kind">{list.lineCount} lines</span>
						<span class="min-w-0 truncate"><b>{list.name}</b> <span class="text-(--half)">{list.about}</span></span>
						<span class="aside"
							>{list.sent > 0 ? `asked ${list.sent} ${list.sent === 1 ? 'time' : 'times'}` : ''}{list.goesByItself
								? ' · sent automatically'
								: ''}{list.shared === 'group'
								? ` · ${list.groupName}`
								: list.shared === 'person'
									? ` · only ${list.mine ? 'me' : list.madeBy}`
									: ''}</span
						>
						<span class="aside">version {list.version}, {list.changedAt}</span>
					</a>
				</li>
			{/each}
		</ul>
	{/each}
	<h2 class="section-head">Ready-made</h2>
	<ul>
		{#each data.ready as list (list.id)}
			<li class="ledger-row kind-row ready">
				<span class="kind">{list.lines} lines</span>
				<span class="min-w-0 truncate"><b>{list.name}</b> <span class="text-(--half)">{list.about} {list.first.join(' · ')} …</span></span>
				<span class="aside">{list.conditional > 0 ? `${list.conditional} depend on the client` : ''}</span>
				<span class="aside">
					{#if data.mayKeep}<form method="post" action="?/make" {@attach enhancedForm({ onProblem: (p) => (problem = p.message) })}>
							<input type="hidden" name="ready" value={list.id} /><button class="act-link" aria-label="Copy {list.name}">Copy</button>
						</form>{/if}
				</span>
			</li>
		{/each}
	</ul>
</main>
