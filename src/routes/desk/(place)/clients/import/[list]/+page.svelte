<script lang="ts">
	import { invalidate } from '$app/navigation';
	import { columnLabel, type ImportColumn } from '$lib/core/clients/import/columns';
	import type { RowOutcome } from '$lib/core/clients/import/plan-import';
	import { enhancedForm } from '$lib/ui/forms/enhanced-form';

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
	const columns = $derived(list.columns as (ImportColumn | null)[]);
	const shown = $derived(columns.map((column, i) => ({ column, i, heading: list.header[i] })).filter((c) => c.column !== null || ready));

	/** While it runs, how far it is; the worker's last word comes as an event like any other. */
	$effect(() => {
		if (list.state !== 'running') return;
		const timer = setInterval(() => void invalidate('desk:import'), 700);
		return () => clearInterval(timer);
	});
	const problemsAt = (plan: (typeof data.rows)[number]['plan'], column: ImportColumn | null) => plan.problems.filter((p) => p.column === column);
	const address = (show: string, after = 0) => `?show=${show}${after ? `&after=${after}` : ''}`;
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
				<select id="heading-line" name="headingLine" class="holds !max-w-md" disabled={pending} value={list.headingLine ?? ''}>
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
					href={address(tab.outcome)}
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

	<div class="scroll">
		<table>
			<thead>
				<tr>
					<th scope="col" class="line">row</th>
					{#each shown as { column, i, heading } (i)}
						<th scope="col">
							{#if ready}
								<form
									method="post"
									action="?/chooseColumns"
									onchange={(event) => (event.currentTarget as HTMLFormElement).requestSubmit()}
									{@attach enhancedForm(handling)}
								>
									{#each columns as other, n (n)}{#if n !== i}<input type="hidden" name="column" value={other ?? ''} />{:else}<select
												name="column"
												class="holds"
												aria-label="What the column {heading} holds"
												disabled={pending}
												value={column ?? ''}
											>
												<option value="">left out</option>
												{#each data.columnChoices as choice (choice.column)}<option
														value={choice.column}
														disabled={choice.column !== column && columns.includes(choice.column)}>{choice.label}</option
													>{/each}
											</select>{/if}{/each}
								</form>
								<span class="heading" class:out={column === null}>{heading}</span>
							{:else}{columnLabel(column!)}{/if}
						</th>
					{/each}
				</tr>
			</thead>
			<tbody>
				{#each data.rows as row (row.line)}
					<tr class="cells" class:needs={data.show === 'wrong' || data.show === 'ask'}>
						<td class="line">{row.line}</td>
						{#each shown as { column, i } (i)}
							{@const problems = column ? problemsAt(row.plan, column) : []}
							<td class:out={column === null}>
								{#if ready && column && problems.length > 0}
									<form method="post" action="?/mendCell" {@attach enhancedForm(handling)}>
										<input type="hidden" name="line" value={row.line} /><input type="hidden" name="column" value={column} />
										<input
											class="line-input cell"
											name="value"
											value={row.cells[i] ?? ''}
											aria-label="{columnLabel(column)} in row {row.line}"
											aria-invalid="true"
											aria-describedby="p-{row.line}-{i}"
										/>
									</form>
								{:else}{row.cells[i] ?? ''}{/if}
							</td>
						{/each}
					</tr>
					<tr class="what">
						<td class="line"></td>
						<td colspan={shown.length}>
							{#each row.plan.problems as wrong, n (n)}<p
									class="field-problem"
									id={wrong.column ? `p-${row.line}-${columns.indexOf(wrong.column)}` : undefined}
								>
									{wrong.column && columns.includes(wrong.column) ? `${columnLabel(wrong.column)}: ` : ''}{wrong.message}
								</p>{/each}
							{#if row.plan.likely.length > 0}
								<div class="flex flex-wrap items-center gap-x-3 gap-y-1">
									{#each row.plan.likely as likely (likely.decision)}
										<form method="post" action="?/decide" {@attach enhancedForm(handling)}>
											<input type="hidden" name="line" value={row.line} />
											<button class="act-link" name="decision" value={likely.decision} disabled={pending || !ready}>It is {likely.name}</button>
											<span class="text-(--half)">({likely.why})</span>
										</form>
									{/each}
									<form method="post" action="?/decide" class="flex gap-3" {@attach enhancedForm(handling)}>
										<input type="hidden" name="line" value={row.line} />
										<button class="act-link" name="decision" value="new" disabled={pending || !ready}>It is new</button>
										<button class="act-link" name="decision" value="skip" disabled={pending || !ready}>Leave it out</button>
									</form>
								</div>
							{:else if data.show === 'create'}
								<p class="inline">
									New client <b>{row.plan.newClient?.name}</b>{row.plan.newPerson ? `, new person ${row.plan.newPerson.name}` : ''}{row.plan
										.newPerson && !row.plan.newPerson.email
										? ' without an address'
										: ''}.{row.plan.remark ? ` ${row.plan.remark}.` : ''}
								</p>
							{:else if data.show === 'update'}
								<p class="inline">
									{#each row.plan.changes as c, n (n)}{n > 0 ? '; ' : ''}{c.label}
										{#if c.from}<s>{c.from}</s> →
										{/if}<b>{c.to}</b>{/each}.{row.plan.remark ? ` ${row.plan.remark}.` : ''}
								</p>
							{/if}
							{#if ready && !row.decision && row.plan.likely.length === 0}
								<form method="post" action="?/decide" class="inline" {@attach enhancedForm(handling)}>
									<input type="hidden" name="line" value={row.line} />
									<button class="act-link" name="decision" value="skip" aria-label="Leave row {row.line} out" disabled={pending}>Leave it out</button>
								</form>
							{/if}
							{#if row.decision && ready}
								<form method="post" action="?/decide" class="inline" {@attach enhancedForm(handling)}>
									<input type="hidden" name="line" value={row.line} /><input type="hidden" name="decision" value="" />
									<span class="text-(--half)"
										>{row.decision === 'skip'
											? 'Left out by you.'
											: row.decision === 'new' || row.decision === 'not_ours'
												? 'New, you said.'
												: 'The same, you said.'}</span
									>
									<button class="act-link" disabled={pending}>Undo</button>
								</form>
							{/if}
						</td>
					</tr>
				{/each}
			</tbody>
		</table>
		{#if data.rows.length === 0}<p class="empty">
				{list.state === 'left' ? 'What was read of it was deleted.' : 'No rows of this kind.'}
			</p>{/if}
		{#if data.next}<p class="empty"><a class="act-quiet" href={address(data.show, data.next)}>The next rows</a></p>{/if}
	</div>
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
	.scroll {
		overflow-x: auto;
	}
	table {
		min-width: 100%;
		border-collapse: collapse;
		font-size: 0.88rem;
	}
	th {
		text-align: left;
		vertical-align: bottom;
		font-weight: 400;
		padding: 8px 10px 4px;
		border-bottom: 1px solid var(--rule-strong);
	}
	th:nth-child(2),
	tbody tr td:nth-child(2) {
		padding-left: 24px;
	}
	.holds {
		max-width: 11rem;
		background: transparent;
		font-weight: 600;
		font-size: 0.85rem;
		min-height: 26px;
		border-bottom: 1px dotted var(--half);
	}
	.heading {
		display: block;
		font-size: 0.75rem;
		color: var(--half);
		white-space: nowrap;
	}
	.line {
		width: 86px;
		min-width: 86px;
		padding-right: 12px;
		text-align: right;
		color: var(--half);
		font-size: 0.8rem;
	}
	.cells td {
		padding: 6px 10px 0;
		max-width: 15rem;
		overflow: hidden;
		text-overflow: ellipsis;
		white-space: nowrap;
	}
	.cells td:has(.cell) {
		overflow: visible;
		min-width: 12rem;
	}
	td.out,
	.heading.out {
		opacity: 0.75;
		color: var(--half);
	}
	.what td {
		padding: 1px 10px 6px;
		border-bottom: 1px solid var(--rule);
		font-size: 0.83rem;
		color: var(--half);
	}
	.what b {
		color: var(--ink);
		font-weight: 600;
	}
	.cell {
		padding: 0.15rem 0.4rem;
		font-size: 0.88rem;
		border-color: var(--wrong);
	}
	.empty {
		padding: 1.25rem 28px 2rem 110px;
		color: var(--half);
	}
	@media (max-width: 800px) {
		.sheet {
			background: var(--sheet);
		}
		.head,
		.bar,
		.empty {
			padding-left: 18px;
		}
		.line {
			width: 44px;
			min-width: 44px;
		}
	}
</style>
