<script lang="ts">
	import { invalidate } from '$app/navigation';
	import type { RowOutcome } from '$lib/core/clients/import/plan-import';
	import { enhancedForm } from '$lib/ui/forms/enhanced-form';
	import Rows from './Rows.svelte';

	let { data } = $props();
	const list = $derived(data.list);
	const counts = $derived(list.counts);
	let problem = $state('');
	let pending = $state(false);
	const handling = {
		onPending: (p: boolean) => {
			pending = p;
			if (p) problem = '';
		},
		onProblem: (p: { message: string }) => (problem = p.message)
	};
	const TABS: { outcome: RowOutcome; words: (n: number) => string }[] = [
		{ outcome: 'wrong', words: (n) => `${n} to put right` },
		{ outcome: 'ask', words: (n) => `${n} to decide` },
		{ outcome: 'create', words: (n) => `${n} new` },
		{ outcome: 'update', words: (n) => `${n} changed` },
		{ outcome: 'same', words: (n) => `${n} as before` },
		{ outcome: 'skip', words: (n) => `${n} left out` }
	];
	const plural = (n: number, one: string, many: string) => `${n.toLocaleString('en')} ${n === 1 ? one : many}`;
	const would = $derived(
		[
			counts.newClients > 0 && plural(counts.newClients, 'new client', 'new clients'),
			counts.newPeople > 0 && plural(counts.newPeople, 'new person', 'new people'),
			counts.update > 0 && plural(counts.update, 'row that changes a client', 'rows that change a client')
		].filter(Boolean)
	);
	const title = $derived(
		list.state === 'done'
			? `${list.fileName} was imported`
			: list.state === 'undone'
				? `${list.fileName} was undone`
				: list.state === 'running'
					? `${list.fileName} is being imported`
					: list.state === 'left'
						? `${list.fileName} was discarded`
						: counts.wrong + counts.ask > 0
							? `${plural(counts.wrong + counts.ask, 'row needs', 'rows need')} you first`
							: would.length > 0
								? `${list.fileName} is ready to import`
								: `Nothing in ${list.fileName} is new`
	);
	const ready = $derived(list.state === 'ready');

	/** While it runs, how far it is; the worker's last word comes as an event like any other. */
	$effect(() => {
		if (list.state !== 'running') return;
		const timer = setInterval(() => void invalidate('desk:import'), 700);
		return () => clearInterval(timer);
	});
</script>

<svelte:head><title>{list.fileName} · {data.firm.name}</title></svelte:head>

<main id="sheet" class="sheet" tabindex="-1">
	<header class="head">
		<p class="text-sm"><a class="act-link" href="/desk/clients/import">Import a list</a></p>
		<div class="flex flex-wrap items-start gap-x-6 gap-y-3">
			<div class="min-w-0 flex-1">
				<h1 class="text-[1.65rem] leading-tight">{title}</h1>
				<p class="mt-1 text-[0.9rem] text-(--half)">
					{plural(data.total, 'row', 'rows')} ({list.format}), read {list.begunAt} by {list.begunBy}.
					{#if list.state === 'done'}Imported {list.doneAt} by {list.doneBy}.
					{:else if list.state === 'undone'}Imported {list.doneAt} by {list.doneBy}, undone {list.undoneAt} by {list.undoneBy}.
					{:else if ready && would.length > 0}It brings {would.join(', ')}{counts.withoutAddress > 0
							? `; ${plural(counts.withoutAddress, 'person has', 'people have')} no address`
							: ''}. Nobody is written to.{/if}
				</p>
			</div>
			<div class="ml-auto flex gap-2">
				{#if ready}
					<form method="post" action="?/leave" {@attach enhancedForm(handling)}><button class="act-quiet" disabled={pending}>Cancel</button></form>
					<form method="post" action="?/start" {@attach enhancedForm(handling)}>
						<button class="act" disabled={pending || counts.wrong + counts.ask > 0 || counts.create + counts.update === 0}
							>{pending ? 'One moment …' : `Import ${plural(counts.create + counts.update, 'row', 'rows')}`}</button
						>
					</form>
				{:else if list.state === 'running'}
					<form method="post" action="?/stop" {@attach enhancedForm(handling)}><button class="act-quiet" disabled={pending}>Stop</button></form>
				{:else if list.state === 'done'}
					<form method="post" action="?/undo" {@attach enhancedForm(handling)}>
						<button class="act-quiet" disabled={pending}
							>{pending ? 'One moment …' : `Undo: remove ${plural(counts.newClients, 'client', 'clients')}`}</button
						>
					</form>
					<a class="act" href="/desk/clients?order=name">See the clients</a>
				{/if}
			</div>
		</div>
		{#if problem}<p class="notice-wrong mt-3" role="alert">{problem}</p>{/if}
		{#if list.trouble}<p class="notice-lamp mt-3" role="status">{list.trouble}</p>{/if}
		{#if list.state === 'running'}
			<p class="mt-3 flex items-center gap-3 text-sm" aria-live="polite">
				<progress class="w-72" value={list.progress} max={counts.create + counts.update} aria-label="Rows imported"></progress>
				{list.progress.toLocaleString('en')} of {(counts.create + counts.update).toLocaleString('en')} rows
			</p>
		{/if}
		{#if data.first.length > 1}
			<form
				method="post"
				action="?/chooseHeading"
				class="mt-3 flex flex-wrap items-baseline gap-2 text-[0.88rem]"
				onchange={(event) => (event.currentTarget as HTMLFormElement).requestSubmit()}
				{@attach enhancedForm(handling)}
			>
				<label for="heading-line" class="text-(--half)">Headings are in</label>
				<select id="heading-line" name="headingLine" class="choice-among-words !max-w-md" disabled={pending} value={list.headingLine ?? ''}>
					{#each data.first as row (row.line)}<option value={row.line}>row {row.line}: {row.words}</option>{/each}
					<option value="">no row: every row is a client</option>
				</select>
			</form>
		{/if}
		<nav class="mt-4 flex flex-wrap gap-x-5 gap-y-1 text-[0.9rem]" aria-label="Rows by what happens to them">
			{#each TABS.filter((tab) => counts[tab.outcome] > 0) as tab (tab.outcome)}
				<a
					class="tab"
					class:needs={tab.outcome === 'wrong' || tab.outcome === 'ask'}
					href="?show={tab.outcome}"
					data-sveltekit-noscroll
					aria-current={data.show === tab.outcome ? 'page' : undefined}>{tab.words(counts[tab.outcome])}</a
				>
			{/each}
		</nav>
	</header>

	{#if ready && (data.show === 'wrong' || data.show === 'ask') && data.rows.length > 0}
		<div class="bar">
			{#if data.show === 'wrong'}
				<span>Write the right value into the cell; Enter saves it.</span>
				<a class="act-link" href="/desk/clients/import/{list.id}/mistakes" download>Download these rows</a>
			{:else}
				<span>These look like somebody you know. Decide row by row, or all at once:</span>
				<form method="post" action="?/decideAll" {@attach enhancedForm(handling)}>
					<input type="hidden" name="outcome" value="ask" /><input type="hidden" name="decision" value="not_ours" />
					<button class="act-link" disabled={pending}>None of the {counts.ask} is a client yet</button>
				</form>
			{/if}
			<form method="post" action="?/decideAll" {@attach enhancedForm(handling)}>
				<input type="hidden" name="outcome" value={data.show} /><input type="hidden" name="decision" value="skip" />
				<button class="act-link" disabled={pending}>Leave {counts[data.show] === 1 ? 'it' : `all ${counts[data.show]}`} out</button>
			</form>
		</div>
	{/if}

	<Rows {data} {handling} {pending} />
</main>

<style>
	.sheet {
		min-height: calc(100dvh - 47px);
		background: linear-gradient(90deg, transparent 86px, var(--margin-line) 86px, var(--margin-line) 87px, transparent 87px) var(--sheet);
		outline: none;
	}
	.head {
		padding: 18px 28px 0 110px;
	}
	.tab {
		padding: 0.35rem 0;
		color: var(--half);
		text-decoration: none;
		border-bottom: 3px solid transparent;
	}
	.tab.needs {
		color: var(--lamp-deep);
		font-weight: 600;
	}
	.tab[aria-current] {
		color: var(--ink);
		font-weight: 700;
		border-bottom-color: var(--lamp-edge);
	}
	.bar {
		display: flex;
		flex-wrap: wrap;
		gap: 0.3rem 1rem;
		align-items: baseline;
		padding: 0.6rem 28px 0.6rem 110px;
		font-size: 0.88rem;
		background: var(--lamp-soft);
		border-block: 1px solid var(--rule);
	}
	@media (max-width: 800px) {
		.sheet {
			background: var(--sheet);
		}
		.head,
		.bar {
			padding-left: 18px;
		}
	}
</style>
