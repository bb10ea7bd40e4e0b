<script lang="ts">
	import { ACCOUNT_KIND_WORDS, accountName, type Account } from '$lib/core/statements/accounts';
	import { cellWords, gridSentence, sumWords } from '$lib/core/statements/grid-words';
	import { isMissing, type GridCell } from '$lib/core/statements/statement-grid';
	import Sheet from '$lib/ui/desk/Sheet.svelte';
	import { dateWords, periodWords } from '$lib/words/dates';
	import StatementLeaf from './StatementLeaf.svelte';

	let { data } = $props();
	const here = $derived(`/desk/clients/${data.client.id}/statements`);
	const months = $derived(data.grid.months);
	const until = $derived(data.until ? `?until=${data.until.slice(0, 7)}` : '');
	const open = $derived(data.leaf ? `${data.leaf.account.id}.${data.leaf.cell.cycle.to}` : null);
	const mayAsk = $derived(data.acts.includes('send_request') && data.client.state === 'active');
	const closes = (day: number) => (day === 31 ? 'closes at month end' : `closes on day ${day}`);
	const about = (account: Account) =>
		account.closedOn
			? `closed ${dateWords('en', account.closedOn, 'withYear')}`
			: `${ACCOUNT_KIND_WORDS[account.kind]}, ${account.openedOn ? `since ${dateWords('en', account.openedOn, 'withYear')}` : closes(account.closingDay)}`;
	/** the cell of an account whose cycle closes in a month */
	const cellOf = (cells: readonly GridCell[], month: string) => cells.find(({ cycle }) => cycle.to.slice(0, 7) === month.slice(0, 7));
	const unasked = $derived(
		data.grid.rows.flatMap(({ account, cells }) =>
			cells.filter(({ state, itemId }) => isMissing({ state }) && itemId === null).map(({ cycle }) => ({ account, to: cycle.to }))
		)
	);
	const askFor = (wanted: readonly { account: Account; to: string }[]) =>
		`/desk/clients/${data.client.id}/ask?statements=${wanted.map(({ account, to }) => `${account.id}.${to}`).join(',')}`;
	const fromMonths = $derived([...new Set(unasked.map(({ to }) => to.slice(0, 7)))].sort());
	let from = $state('');
	const fromOn = $derived(unasked.filter(({ to }) => to.slice(0, 7) >= from));
	const moved = (by: number) => {
		const [year, month] = months.at(-1)!.split('-').map(Number);
		const at = year * 12 + month - 1 + by;
		return `${here}?until=${Math.floor(at / 12)}-${String((at % 12) + 1).padStart(2, '0')}`;
	};
	/** what stands at the beginning of a cell: the sum by which it does not go on from the one before */
	const differs = (row: (typeof data.grid.rows)[number], cell: GridCell) => {
		const id = cell.statementIds.find((one) => row.differing[one]);
		return id ? row.differing[id] : null;
	};
</script>

<svelte:head><title>Statements · {data.client.name}</title></svelte:head>

<Sheet leafOpen={data.leaf !== null} closeHref="{here}{until}" margin={236}>
	{#snippet sheet()}
		<header class="head">
			<p class="text-sm"><a class="act-link" href="/desk/clients/{data.client.id}">{data.client.name}</a></p>
			<h1 class="text-[1.65rem] leading-tight">{gridSentence({ ...data.grid, differing: data.grid.differing.length })}</h1>
			{#if data.grid.expected > 0}<p class="text-[0.92rem] text-(--half)">
					{data.grid.in} of {data.grid.expected} statements are in. Nothing is asked twice; closed accounts are asked for nothing.
				</p>{/if}
		</header>
		{#if data.grid.rows.length === 0}
			<p class="head py-6">
				{data.client.name} has no accounts yet.
				<a class="act-link" href="/desk/clients/{data.client.id}?open=accounts#accounts">Add the first one</a>, and its statements stand here month by
				month.
			</p>
		{:else}
			<div class="scroll">
				<table class="ledger">
					<thead
						><tr
							><th scope="col">account</th>{#each months as month (month)}<th scope="col"
									>{periodWords('en', { kind: 'month', from: month }).slice(0, 3)}{month.slice(5, 7) === '01' ? ` ${month.slice(0, 4)}` : ''}</th
								>{/each}</tr
						></thead
					>
					<tbody>
						{#each data.grid.rows as row (row.account.id)}
							<tr class:lit={data.leaf?.account.id === row.account.id}>
								<th scope="row"><b>{accountName(row.account)}</b><span>{about(row.account)}</span></th>
								{#each months as month (month)}
									{@const cell = cellOf(row.cells, month)}
									{@const off = cell ? differs(row, cell) : null}
									<td>
										{#if cell && cell.state !== 'before' && cell.state !== 'closed'}
											{@const key = `${row.account.id}.${cell.cycle.to}`}
											<a
												class="cell {cell.state}"
												data-row
												data-sveltekit-noscroll
												href="{here}/{key}{until}"
												aria-current={open === key ? 'true' : undefined}
												aria-label="{accountName(row.account)}, {dateWords('en', cell.counts.from, 'short')} to {dateWords(
													'en',
													cell.counts.to,
													'withYear'
												)}: {cellWords(cell)}{off ? `, does not join: ${sumWords(off)}` : ''}"
												><span class="says">{cellWords(cell)}</span>{#if off}<span class="off">{sumWords(off)}</span>{/if}</a
											>
										{/if}
									</td>
								{/each}
							</tr>
						{/each}
					</tbody>
				</table>
			</div>
			<div class="head flex flex-wrap items-end gap-3 py-4">
				{#if mayAsk && unasked.length > 0}
					<a class="act" href={askFor(unasked)}
						>{unasked.length === 1 ? 'Ask for the one that nobody asked for' : `Ask for the ${unasked.length} that nobody asked for`}</a
					>
					{#if fromMonths.length > 1}
						<label class="field"
							><span>or from a month on</span><select bind:value={from}
								><option value="">choose …</option>{#each fromMonths as month (month)}<option value={month}
										>{periodWords('en', { kind: 'month', from: `${month}-01` })}</option
									>{/each}</select
							></label
						>
						{#if from}<a class="act-quiet" href={askFor(fromOn)}>Ask for {fromOn.length}</a>{/if}
					{/if}
				{/if}
				<span class="ml-auto flex gap-4 text-sm">
					{#if data.grid.earlier}<a class="act-link" href={moved(-6)} data-sveltekit-noscroll>Earlier months</a>{/if}
					{#if data.until}<a class="act-link" href={here} data-sveltekit-noscroll>Back to today</a>{/if}
					<a class="act-link" href="{here}/csv{until}" download>CSV</a>
				</span>
			</div>
			<p class="head pb-6 text-[0.8rem] text-(--half)">
				in: here, and looked at · to look at: came, and nobody has accepted it · asked, late: open with the client · not asked: nobody has asked for
				it · a sum: what lies between one closing balance and the next opening one
			</p>
		{/if}
	{/snippet}
	{#if data.leaf}
		{#key open}<StatementLeaf
				leaf={data.leaf}
				client={data.client}
				accounts={data.accounts}
				mayFile={data.acts.includes('file_papers')}
				askHref={mayAsk && data.leaf.cell.itemId === null && isMissing(data.leaf.cell)
					? askFor([{ account: data.leaf.account, to: data.leaf.cell.cycle.to }])
					: null}
			/>{/key}
	{/if}
</Sheet>

<style>
	.head {
		padding-left: 254px;
		padding-right: 20px;
	}
	header.head {
		padding-top: 18px;
		padding-bottom: 12px;
	}
	.scroll {
		overflow-x: auto;
	}
	.ledger {
		width: 100%;
		border-collapse: collapse;
		font-size: 0.86rem;
	}
	th[scope='col'] {
		padding: 6px 4px;
		border-block: 1px solid var(--rule-strong);
		font-weight: 400;
		font-size: 0.8rem;
		color: var(--half);
		text-align: center;
	}
	th[scope='col']:first-child {
		padding-right: 16px;
		text-align: right;
	}
	th[scope='row'] {
		width: 236px;
		min-width: 236px;
		padding: 5px 14px 5px 24px;
		border-bottom: 1px solid var(--rule);
		text-align: left;
		font-weight: 400;
	}
	th[scope='row'] b,
	th[scope='row'] span {
		display: block;
		overflow: hidden;
		text-overflow: ellipsis;
	}
	th[scope='row'] span {
		font-size: 0.78rem;
		color: var(--half);
	}
	td {
		min-width: 64px;
		padding: 0;
		border-bottom: 1px solid var(--rule);
		text-align: center;
	}
	tr.lit {
		background: var(--lamp-soft);
	}
	.cell {
		position: relative;
		display: grid;
		place-items: center;
		min-height: 46px;
		padding: 4px 2px;
		font-size: 0.8rem;
		text-decoration: none;
		color: var(--half);
	}
	.says {
		padding: 1px 5px;
		border: 1px solid transparent;
		white-space: nowrap;
	}
	.cell:hover .says,
	.cell[aria-current] .says {
		text-decoration: underline;
		text-underline-offset: 3px;
	}
	.in .says {
		border-bottom: 2px solid var(--half);
	}
	.to_look_at .says {
		background: var(--lamp);
		color: var(--sheet);
	}
	.asked .says {
		border-color: var(--half);
		color: var(--ink);
	}
	.late .says {
		border: 2px solid var(--ink);
		font-weight: 700;
		color: var(--ink);
	}
	.not_asked .says,
	.part .says {
		border: 1px dashed var(--lamp);
		font-weight: 700;
		color: var(--lamp-deep);
	}
	.off {
		position: absolute;
		top: 2px;
		left: 0;
		transform: translateX(-50%);
		z-index: 1;
		padding: 0 4px;
		border: 1px solid var(--lamp-edge);
		background: var(--lamp-soft);
		font-size: 0.76rem;
		font-weight: 700;
		color: var(--lamp-deep);
		white-space: nowrap;
	}
	@media (max-width: 800px) {
		.head {
			padding-left: 16px;
		}
		th[scope='row'] {
			position: sticky;
			left: 0;
			z-index: 2;
			width: 150px;
			min-width: 150px;
			padding-left: 12px;
			background: var(--sheet);
		}
	}
</style>
