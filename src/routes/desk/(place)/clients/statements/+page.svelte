<script lang="ts">
	let { data } = $props();
	const title = $derived(
		data.statements === 0
			? 'No statement is missing anywhere.'
			: `${data.statements.toLocaleString('en')} ${data.statements === 1 ? 'statement is' : 'statements are'} missing at ${data.clients} ${data.clients === 1 ? 'client' : 'clients'}.`
	);
</script>

<svelte:head><title>Missing statements · {data.firm.name}</title></svelte:head>
<main id="sheet" class="sheet" tabindex="-1">
	<header class="px-4 pt-5 pb-3 md:pl-[124px]">
		<h1 class="text-[1.65rem] leading-tight">{title}</h1>
		<p class="flex flex-wrap gap-x-4 text-[0.88rem] text-(--half)">
			<span>The longest hole first.</span>
			<a class="act-link" href={data.mine ? '/desk/clients/statements' : '/desk/clients/statements?mine=1'}
				>{data.mine ? 'Everybody’s clients' : 'Only my clients'}</a
			>
			{#if data.statements > 0}<a class="act-link" href="/desk/clients/statements/csv{data.mine ? '?mine=1' : ''}" download>CSV</a>{/if}
		</p>
	</header>
	<ul>
		{#each data.rows as row (row.accountId)}<li>
				<a class="row" href="/desk/clients/{row.clientId}/statements/{row.accountId}.{row.oldest}" data-row>
					<span class="days">{row.holeDays} days</span>
					<span class="min-w-0"><b class="block truncate">{row.clientName}</b><span class="text-[0.8rem] text-(--half)">{row.account}</span></span>
					<span>{row.hole}</span>
					<span class="text-[0.86rem] text-(--half)"
						>{row.count}
						{row.count === 1 ? 'statement' : 'statements'}, {row.notAsked === 0
							? 'all asked for'
							: row.notAsked === row.count
								? row.count === 1
									? 'not asked for'
									: 'none asked for'
								: `${row.notAsked} not asked for`}{row.differing > 0
							? `; ${row.differing} ${row.differing === 1 ? 'sum does' : 'sums do'} not join`
							: ''}</span
					>
				</a>
			</li>{/each}
	</ul>
	{#if data.more > 0}<p class="px-4 py-3 text-sm text-(--half) md:pl-[124px]">{data.more.toLocaleString('en')} more are in the CSV.</p>{/if}
</main>

<style>
	.sheet {
		min-height: calc(100dvh - 47px);
		background: linear-gradient(90deg, transparent 106px, var(--margin-line) 106px, var(--margin-line) 107px, transparent 107px) var(--sheet);
	}
	.row {
		display: grid;
		grid-template-columns: 106px minmax(0, 1.1fr) minmax(0, 1fr) minmax(0, 1.2fr);
		align-items: center;
		gap: 18px;
		min-height: 46px;
		padding-right: 18px;
		border-bottom: 1px solid var(--rule);
		font-size: 0.9rem;
		text-decoration: none;
	}
	.row:hover,
	.row:focus-visible {
		background: linear-gradient(90deg, transparent 107px, var(--lamp-soft) 107px);
	}
	.days {
		padding: 0 10px;
		font-weight: 700;
		color: var(--lamp-deep);
		text-align: right;
	}
	@media (max-width: 640px) {
		.sheet {
			background: var(--sheet);
		}
		.row {
			grid-template-columns: minmax(0, 1fr);
			gap: 2px;
			padding: 8px 16px;
		}
		.days {
			padding-left: 0;
			text-align: left;
		}
	}
</style>
