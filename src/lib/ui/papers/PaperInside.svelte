<script lang="ts">
	import type { PaperInside } from '$lib/core/papers/paper-inside';
	import { sizeWords } from '$lib/words/dates';

	/** What stands in a paper that has no pages: a table, a mail, or text. */
	let { src, name }: { src: string; name: string } = $props();
	let inside = $state<PaperInside | null>(null);
	let problem = $state('');
	// by its value: what is around it is read anew with every live update, and the file need not be
	const address = $derived(src);

	$effect(() => {
		const url = `${address}/inside`;
		inside = null;
		problem = '';
		const ended = new AbortController();
		fetch(url, { signal: ended.signal })
			.then(async (answer) => {
				const said = await answer.json();
				if (answer.ok) inside = said as PaperInside;
				else problem = (said as { message?: string }).message ?? `${name} cannot be shown here. Download it to look at it.`;
			})
			.catch(() => {
				if (!ended.signal.aborted) problem = 'The connection was lost. Open it again.';
			});
		return () => ended.abort();
	});
	const wide = $derived(inside?.kind === 'table' ? Math.max(0, ...inside.rows.map((row) => row.length)) : 0);
</script>

<div class="inside">
	{#if problem}<p>{problem}</p>
	{:else if !inside}<p aria-live="polite">Opening {name} …</p>
	{:else if inside.kind === 'table'}
		<table>
			<tbody>
				{#each inside.rows as row, index (index)}
					<tr>
						<th scope="row">{index + 1}</th>
						{#each { length: wide } as _, column (column)}<td>{row[column] ?? ''}</td>{/each}
					</tr>
				{/each}
			</tbody>
		</table>
	{:else}
		{#if inside.kind === 'mail'}
			<dl>
				<div>
					<dt>from</dt>
					<dd>{inside.from}</dd>
				</div>
				<div>
					<dt>to</dt>
					<dd>{inside.to}</dd>
				</div>
				{#if inside.at}<div>
						<dt>written</dt>
						<dd>{inside.at}</dd>
					</div>{/if}
				<div>
					<dt>about</dt>
					<dd><b>{inside.subject}</b></dd>
				</div>
				{#if inside.files.length > 0}<div>
						<dt>files</dt>
						<dd>
							{#each inside.files as file, number (number)}<a class="block underline" href="{src}/inside?file={number}" download
									>{file.name} ({sizeWords('en', file.bytes)})</a
								>{/each}
						</dd>
					</div>{/if}
			</dl>
		{/if}
		<pre>{inside.text}</pre>
	{/if}
	{#if inside?.more}<p class="more">There is more in it. Download it to read it all.</p>{/if}
</div>

<style>
	.inside {
		min-height: 100%;
		padding: 14px 16px;
		overflow: auto;
		background: #fff;
		color: #1d2530;
		font-size: 0.86rem;
	}
	table {
		border-collapse: collapse;
		font-variant-numeric: tabular-nums;
	}
	td,
	th {
		padding: 3px 9px;
		border: 1px solid #ddd6c4;
		text-align: left;
		white-space: pre-wrap;
	}
	th {
		font-weight: 400;
		color: #5d6472;
		background: #f6f2e7;
	}
	tr:first-child td {
		font-weight: 700;
	}
	pre {
		font-family: inherit;
		white-space: pre-wrap;
		overflow-wrap: anywhere;
	}
	dl {
		margin-bottom: 12px;
		padding-bottom: 8px;
		border-bottom: 1px solid #ddd6c4;
	}
	dl > div {
		display: grid;
		grid-template-columns: 4.5rem minmax(0, 1fr);
	}
	dt,
	.more {
		color: #5d6472;
	}
	.more {
		margin-top: 10px;
	}
</style>
