<script lang="ts">
	import type { ImportColumn } from '$lib/core/clients/import/columns';
	import { enhancedForm, type FormHandling } from '$lib/ui/forms/enhanced-form';
	import type { PageData } from './$types';

	/** The rows of a list: what each column holds, what is wrong in which cell, and what is to become of each row. */
	let { data, handling, pending }: { data: PageData; handling: FormHandling; pending: boolean } = $props();
	const list = $derived(data.list);
	const ready = $derived(list.state === 'ready');
	const columns = $derived(list.columns as (ImportColumn | null)[]);
	const shown = $derived(columns.map((column, i) => ({ column, i, heading: list.header[i] })).filter((c) => c.column !== null || ready));
	const problemsAt = (plan: (typeof data.rows)[number]['plan'], column: ImportColumn | null) => plan.problems.filter((p) => p.column === column);
</script>

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
											class="choice-among-words"
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
						{:else}{data.labels[column!]}{/if}
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
										aria-label="{data.labels[column]} in row {row.line}"
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
								{wrong.column && columns.includes(wrong.column) ? `${data.labels[wrong.column]}: ` : ''}{wrong.message}
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
	{#if data.next}<p class="empty"><a class="act-quiet" href="?show={data.show}&after={data.next}">The next rows</a></p>{/if}
</div>

<style>
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
		.empty {
			padding-left: 18px;
		}
		.line {
			width: 44px;
			min-width: 44px;
		}
	}
</style>
