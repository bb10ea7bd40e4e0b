<script lang="ts">
	import Bars from '$lib/ui/questionnaires/Bars.svelte';

	let { data } = $props();
</script>

<svelte:head><title>Which reminders work · {data.firm.name}</title></svelte:head>

<main id="sheet" class="mx-auto max-w-5xl px-5 pt-5 pb-10 outline-none" tabindex="-1">
	<p class="text-sm"><a class="act-link inline-block min-h-6" href="/desk/almanac">Back to the Almanac</a></p>
	<div class="mt-1 flex flex-wrap items-baseline gap-x-4 gap-y-2">
		<h1 class="text-[1.65rem] leading-tight">Which reminders work</h1>
		<p class="text-[0.88rem] text-(--half)">What people did within two days of a reminder, over the last year.</p>
		{#if data.parts.length > 0}<a class="act-quiet ml-auto" href="/desk/almanac/works/csv" download>Download the table</a>{/if}
	</div>
	<p class="mt-3 max-w-3xl text-[1.05rem]">{data.says}</p>
	{#each data.parts as part (part.by)}
		<section class="mt-6" aria-labelledby="works-{part.by}">
			<h2 id="works-{part.by}" class="text-[1.15rem]">{part.heading}</h2>
			{#if part.by === 'step'}<Bars
					label="Answered within two days, per cent, by step: {part.rows.map((row) => `${row.name} ${row.percent}`).join('; ')}"
					counts={part.rows.map((row) => ({ words: row.name, count: row.percent }))}
				/>{/if}
			<div class="overflow-x-auto" role="region" aria-labelledby="works-{part.by}" tabindex="-1">
				<table class="works">
					<thead>
						<tr>
							<th scope="col">{part.by === 'step' ? 'In the order of the bars' : ''}</th>
							<th scope="col">Sent</th>
							<th scope="col">Came to their page</th>
							<th scope="col">Answered</th>
							<th scope="col">Handed in</th>
							<th scope="col">Answered without one</th>
							<th scope="col">Stopped reminders</th>
						</tr>
					</thead>
					<tbody>
						{#each part.rows as row (row.name)}<tr class:few={row.few}>
								<th scope="row">{row.name}{row.few ? ' (few)' : ''}</th>
								<td>{row.sent}</td>
								{#each row.cells as cell, n (n)}<td>{cell}</td>{/each}
								<td>{row.stopped}</td>
							</tr>{/each}
					</tbody>
				</table>
			</div>
		</section>
	{/each}
	{#if data.parts.length > 0}<p class="mt-4 max-w-3xl text-sm text-(--half)">
			In brackets the range in which the share may as well lie (95 %, after Wilson). “Answered without one” are the same people in the two days before
			the reminder, when nobody had reminded them. Fewer than 20 are too few to compare. A reminder for several steps counts with each of them.
		</p>{/if}
</main>

<style>
	.works {
		width: 100%;
		font-size: 0.85rem;
		border-collapse: collapse;
	}
	.works th,
	.works td {
		padding: 5px 8px;
		text-align: right;
		border-bottom: 1px solid var(--rule);
		font-variant-numeric: tabular-nums;
		white-space: nowrap;
		font-weight: normal;
	}
	.works thead th {
		vertical-align: bottom;
		font-size: 0.77rem;
		color: var(--half);
		white-space: normal;
		border-bottom: 1px solid var(--rule-strong);
	}
	.works th:first-child {
		text-align: left;
		padding-left: 0;
		white-space: normal;
	}
	.works tbody th {
		font-weight: 600;
	}
	.works .few th,
	.works .few td {
		color: var(--half);
		font-weight: normal;
	}
</style>
