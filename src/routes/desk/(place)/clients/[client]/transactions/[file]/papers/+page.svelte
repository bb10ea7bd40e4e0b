<script lang="ts">
	import { untrack } from 'svelte';
	import { SvelteSet } from 'svelte/reactivity';
	import { ASKED_LINES_MAX } from '$lib/core/transactions/statement-line-questions';
	import { enhancedForm } from '$lib/ui/forms/enhanced-form';
	import { amountWords } from '$lib/words/amounts';
	import { dateWords } from '$lib/words/dates';

	let { data } = $props();
	type Line = (typeof data.without)[number];
	const here = $derived(`/desk/clients/${data.client.id}/transactions/${data.file.id}`);
	const mayFile = $derived(data.acts.includes('file_papers'));
	const mayAsk = $derived(data.acts.includes('send_request') && data.client.state === 'active');
	/** pairs that were ticked or unticked by hand; the others are ticked if they are clear */
	const turned = new SvelteSet<string>();
	/** lines that are not to be asked for */
	const left = new SvelteSet<string>();
	/** the line for which a paper is being chosen */
	let choosing = $state('');
	/** what is paired stands open where nothing else is there; afterwards as somebody leaves it, whatever comes meanwhile */
	let showFound = $state(untrack(() => data.likely.length + data.without.length === 0));
	let problem = $state('');
	let said = $state('');
	let pending = $state(false);
	const handling = {
		onPending: (p: boolean) => (pending = p),
		onProblem: (p: { message: string }) => ((problem = p.message), (said = '')),
		onSuccess: (answer: unknown) => {
			problem = '';
			choosing = '';
			const words = (answer as { said?: unknown } | null)?.said;
			said = typeof words === 'string' ? words : '';
		}
	};
	const pairKey = (one: { lineId: string; paperId: string }) => `${one.lineId} ${one.paperId}`;
	const ticked = (one: (typeof data.likely)[number]) => one.sure !== turned.has(pairKey(one));
	const turn = (set: SvelteSet<string>, key: string) => (set.has(key) ? set.delete(key) : set.add(key));
	const chosen = $derived(data.likely.filter(ticked).length);
	const asked = $derived(data.without.filter(({ id }) => !left.has(id)).length);
	const lineWords = (n: number) => (n === 1 ? 'one line' : `${n.toLocaleString('en')} lines`);
	const called = (line: Line) => line.who || line.words;
	const sentence = $derived(
		data.wanting === 0
			? 'Every line names its document.'
			: data.paired === data.wanting
				? 'Every line has its paper.'
				: `${data.paired === 0 ? 'None' : data.paired.toLocaleString('en')} of ${lineWords(data.wanting)} ${data.paired === 1 ? 'has its paper' : 'have their paper'}.`
	);
</script>

<svelte:head><title>Papers of {data.file.name} · {data.client.name}</title></svelte:head>

{#snippet cells(line: Line)}
	<td class="whitespace-nowrap">{dateWords('en', line.day, 'withYear')}</td>
	<td class="break-words"><b>{line.who || '–'}</b> <span class="text-(--half)">{line.words}</span></td>
	<td class="text-right whitespace-nowrap tabular-nums">{line.amount.startsWith('-') ? '−' : ''}{amountWords('en', line.amount, line.currency)}</td>
{/snippet}
{#snippet paperCell(paper: { id: string; name: string; cameOn: string })}
	<a class="font-semibold underline decoration-dotted underline-offset-2" href="/desk/clients/{data.client.id}/papers/{paper.id}" target="_blank"
		>{paper.name}</a
	>
	<span class="text-(--half)">came {dateWords('en', paper.cameOn)}</span>
{/snippet}
{#snippet no(lineId: string, paperId: string, words: string, about: string)}
	<form method="post" action="?/refuse" {@attach enhancedForm(handling)}>
		<input type="hidden" name="lineId" value={lineId} /><input type="hidden" name="paperId" value={paperId} />
		<button class="act-link whitespace-nowrap" disabled={pending} aria-label="{words}: {about}">{words}</button>
	</form>
{/snippet}

<main id="sheet" class="sheet choosing" tabindex="-1">
	<div class="masthead">
		<p class="text-sm">
			<a class="act-link" href="/desk/clients/{data.client.id}">{data.client.name}</a> ·
			<a class="act-link" href="/desk/clients/{data.client.id}/transactions">Questions about transactions</a> ·
			<a class="act-link break-all" href={here}>{data.file.name}</a>
		</p>
		<div class="flex flex-wrap items-baseline gap-x-4 gap-y-1">
			<h1 class="text-[1.65rem] leading-tight">{sentence}</h1>
			<a class="act-link ml-auto text-sm" href="{here}/papers/csv" download>CSV with the papers</a>
		</div>
		<p class="mt-1 max-w-[46rem] text-sm text-(--half)">
			A paper belongs to a line if its sum stands in it, and its day, who was paid or the number of an invoice agree. What is clear was paired by
			itself.
			{#if data.asked > 0}About {lineWords(data.asked)} the client was asked.{/if}
		</p>
		{#if problem}<p class="notice-wrong mt-2" role="alert">{problem}</p>{/if}
		<p role="status" class={said ? 'notice-lamp mt-2' : ''}>{said}</p>
	</div>

	{#if data.likely.length > 0}
		<section aria-labelledby="likely">
			<h2 id="likely" class="heading">Perhaps these</h2>
			<form id="pairs" method="post" action="?/pair" {@attach enhancedForm(handling)}></form>
			<table class="list">
				<thead
					><tr
						><th class="margin"><span class="sr">choice</span></th><th>day</th><th>line</th><th class="text-right">amount</th><th>paper, and why</th
						><th><span class="sr">no</span></th></tr
					></thead
				>
				<tbody>
					{#each data.likely as one (pairKey(one))}
						<tr class:lit={mayFile && ticked(one)}>
							<td class="margin"
								>{#if mayFile}<input
										type="checkbox"
										form="pairs"
										name="pair"
										value={pairKey(one)}
										checked={ticked(one)}
										onchange={() => turn(turned, pairKey(one))}
										aria-label="{called(one.line)}, {one.line.amount} of {one.line.day}, and {one.paper.name} belong together"
									/>{/if}</td
							>
							{@render cells(one.line)}
							<td class="break-words">
								{@render paperCell(one.paper)}
								<span class="block text-(--half)">{one.signs.map(({ says }) => says).join(' · ')}</span>
							</td>
							<td
								>{#if mayFile}{@render no(one.lineId, one.paperId, 'Not these two', `${called(one.line)}, ${one.paper.name}`)}{/if}</td
							>
						</tr>
					{/each}
				</tbody>
			</table>
			{#if mayFile}<p class="under">
					<button class="act" form="pairs" disabled={pending || chosen === 0}
						>{chosen === 0 ? 'Tick what belongs together' : chosen === 1 ? 'Keep this pair' : `Keep these ${chosen} pairs`}</button
					>
				</p>{/if}
		</section>
	{/if}

	{#if data.without.length > 0}
		<section aria-labelledby="without">
			<h2 id="without" class="heading">No paper is here</h2>
			<form id="missing" method="post" action="?/ask" {@attach enhancedForm(handling)}></form>
			<table class="list">
				<thead
					><tr
						><th class="margin"><span class="sr">choice</span></th><th>day</th><th>line</th><th class="text-right">amount</th><th
							><span class="sr">paper</span></th
						></tr
					></thead
				>
				<tbody>
					{#each data.without as line (line.id)}
						<tr>
							<td class="margin"
								>{#if mayAsk}<input
										type="checkbox"
										form="missing"
										name="line"
										value={line.id}
										checked={!left.has(line.id)}
										onchange={() => turn(left, line.id)}
										aria-label="Ask for the paper of {called(line)}, {line.amount} of {line.day}"
									/>{/if}</td
							>
							{@render cells(line)}
							<td class="pick">
								{#if mayFile && data.choices.length > 0}
									{#if choosing === line.id}
										<form method="post" action="?/choose" class="flex flex-wrap items-center gap-2 py-1" {@attach enhancedForm(handling)}>
											<input type="hidden" name="lineId" value={line.id} />
											<!-- svelte-ignore a11y_autofocus -->
											<select name="paperId" class="line-input !w-auto max-w-72 !py-1 text-sm" aria-label="The paper of {called(line)}" autofocus
												><option value="">choose …</option>{#each data.choices as paper (paper.id)}<option value={paper.id}
														>{paper.name}, {dateWords('en', paper.cameOn)}</option
													>{/each}</select
											>
											<button class="act-quiet" disabled={pending}>Keep</button>
											<button type="button" class="act-link" onclick={() => (choosing = '')}>Leave it</button>
										</form>
									{:else}<button class="act-link" onclick={() => (choosing = line.id)} aria-label="Choose its paper: {called(line)} of {line.day}"
											>Choose its paper …</button
										>{/if}
								{/if}
							</td>
						</tr>
					{/each}
				</tbody>
			</table>
			{#if data.withoutCount > data.without.length}<p class="under text-sm text-(--half)">
					{lineWords(data.withoutCount - data.without.length)} more are without one; they come up once these are asked for.
				</p>{/if}
		</section>
	{/if}

	{#if data.found.length > 0}
		<details class="found" bind:open={showFound}>
			<summary class="heading cursor-pointer"
				>{data.paired === 1 ? 'One line with its paper' : `${data.paired.toLocaleString('en')} lines with their papers`}</summary
			>
			<table class="list">
				<thead
					><tr
						><th class="margin"></th><th>day</th><th>line</th><th class="text-right">amount</th><th>paper</th><th>paired</th><th
							><span class="sr">take back</span></th
						></tr
					></thead
				>
				<tbody>
					{#each data.found as one (one.line.id)}
						<tr>
							<td class="margin"></td>
							{@render cells(one.line)}
							<td class="break-words">{@render paperCell(one.paper)}</td>
							<td class="text-(--half)">by {one.by ?? 'itself'}</td>
							<td
								>{#if mayFile}{@render no(one.line.id, one.paper.id, 'Take it back', `${called(one.line)}, ${one.paper.name}`)}{/if}</td
							>
						</tr>
					{/each}
				</tbody>
			</table>
			{#if data.paired > data.found.length}<p class="under text-sm text-(--half)">The CSV has all of them.</p>{/if}
		</details>
	{/if}

	{#if mayAsk && data.without.length > 0}
		<div class="bar" class:resting={asked === 0}>
			{#if asked === 0}<span class="text-(--half)">Tick the lines whose papers you want to ask for.</span>
			{:else}<button class="act" form="missing" disabled={pending || asked > ASKED_LINES_MAX}
					>{asked === 1 ? 'Ask for the one that is missing …' : `Ask for the ${asked} that are missing …`}</button
				><span class="text-(--half)">in one item; you read it before it goes</span>{/if}
		</div>
	{/if}
</main>

<style>
	.heading {
		padding: 18px 18px 4px 104px;
		font-family: var(--font-words, inherit);
		font-size: 1.1rem;
	}
	/* the tables stand below each other: their columns too */
	.list th:nth-child(2) {
		width: 150px;
	}
	.list th:nth-child(3) {
		width: 32%;
	}
	.list th:nth-child(4) {
		width: 110px;
	}
	.under {
		padding: 10px 18px 4px 104px;
	}
	.found {
		padding-bottom: 24px;
	}
	@media (max-width: 800px) {
		.heading,
		.under {
			padding-left: 16px;
		}
		/* day and sum beside each other, what belongs to them below */
		.list thead {
			display: none;
		}
		.list tr {
			display: grid;
			grid-template-columns: 44px minmax(0, 1fr) auto;
			padding: 7px 16px 7px 0;
			border-bottom: 1px solid var(--rule);
		}
		.list td {
			grid-column: 2 / -1;
			height: auto;
			padding: 1px 0;
			border: 0;
		}
		.list td.margin {
			grid-row: 1 / span 5;
			grid-column: 1;
			padding-right: 12px;
		}
		.list td:nth-child(2) {
			grid-column: 2;
		}
		.list td:nth-child(4) {
			grid-row: 1;
			grid-column: 3;
		}
	}
</style>
