<script lang="ts">
	import { answerInWords } from '$lib/core/items/answers';
	import { minorDecimals } from '$lib/core/items/minor-units';
	import { compareAnswers, gather } from '$lib/core/questionnaires/answers-of-many';
	import { enhancedForm } from '$lib/ui/forms/enhanced-form';
	import WholeSheet from '$lib/ui/desk/WholeSheet.svelte';
	import Bars from '$lib/ui/questionnaires/Bars.svelte';
	import { deskAnswerReader } from '$lib/words/desk-answers';
	import { numberFormatter } from '$lib/words/dates';

	let { data } = $props();
	const reader = deskAnswerReader();
	let view = $state<'questions' | 'clients'>('questions');
	/** the key of the question by which the table is sorted; empty for the client's name */
	let by = $state('');
	let down = $state(false);
	let problem = $state('');
	const gathered = $derived(data.questions.map((question) => ({ question, ...gather(question, data.all, reader) })));
	const sorted = $derived.by(() => {
		const question = data.questions.find(({ key }) => key === by);
		const rows = question ? data.all.toSorted((a, b) => compareAnswers(question, a.answers, b.answers, reader)) : [...data.all];
		return down ? rows.reverse() : rows;
	});
	function figure(value: number, { answer }: (typeof data.questions)[number]) {
		const decimals = answer.is === 'money' ? minorDecimals(answer.currency) : null;
		return numberFormatter('en', { minimumFractionDigits: decimals ?? 0, maximumFractionDigits: decimals ?? 2 }).format(value);
	}
	const people = (n: number) => (n === 1 ? 'one answer' : `${n} answers`);
	function sort(key: string) {
		down = by === key ? !down : false;
		by = key;
	}
</script>

<svelte:head><title>Answers: {data.name} · {data.firm.name}</title></svelte:head>

{#snippet back(id: string, name: string)}
	<form method="post" action="/desk/public-answers/{id}?/bringBack" {@attach enhancedForm({ onProblem: (p) => (problem = p.message) })}>
		<button class="act-link text-[0.8rem]" aria-label="Bring the answer of {name} back to Rounds">back to Rounds</button>
	</form>
{/snippet}
{#snippet unit(answer: (typeof data.questions)[number]['answer'])}{answer.is === 'money'
		? ` ${answer.currency}`
		: answer.is === 'number' && answer.unit
			? ` ${answer.unit}`
			: ''}{/snippet}

<WholeSheet>
	<p class="text-sm"><a class="act-link" href="/desk/library/questionnaires/{data.id}">Back to the questionnaire</a></p>
	<h1 class="text-[1.65rem] leading-tight">{data.name}</h1>
	<div class="mt-1 flex flex-wrap items-baseline gap-x-5 gap-y-1 text-[0.9rem]">
		<span class="text-(--half)"
			>{data.total === 0
				? 'Nobody has answered yet.'
				: data.total === 1
					? 'One has answered.'
					: `${data.total} have answered${data.total > data.most ? `; the first ${data.most} by name are shown, the files hold all of them` : ''}.`}</span
		>
		{#if data.total > 0}
			<span class="flex gap-1">
				<button type="button" class="only" aria-current={view === 'questions' ? 'true' : undefined} onclick={() => (view = 'questions')}
					>By question</button
				>
				<button type="button" class="only" aria-current={view === 'clients' ? 'true' : undefined} onclick={() => (view = 'clients')}>By client</button
				>
			</span>
			<a class="act-link" href="/desk/library/questionnaires/{data.id}/answers/file?as=csv" download>Download as CSV</a>
			<a class="act-link" href="/desk/library/questionnaires/{data.id}/answers/file?as=json" download>as JSON</a>
		{/if}
	</div>
	{#if problem}<p class="notice-wrong mt-3" role="alert">{problem}</p>{/if}
	{#if data.total > 0 && view === 'questions'}
		<ol class="mt-5 max-w-4xl">
			{#each gathered as one (one.question.key)}
				<li class="border-b border-(--rule-strong) py-4">
					<h2 class="text-[1.02rem]">{one.question.title}</h2>
					<p class="text-[0.82rem] text-(--half)">{one.answered === 0 ? 'no answer' : people(one.answered)}</p>
					{#if one.answered > 0 && one.as === 'counts'}
						<div class="mt-2 flex flex-wrap items-start gap-6">
							<table class="counts">
								<tbody>
									{#each one.counts as count (count.words)}<tr
											><th scope="row">{count.words}</th><td>{count.count}</td><td class="text-(--half)"
												>{Math.round((count.count / one.answered) * 100)} %</td
											></tr
										>{/each}
								</tbody>
							</table>
							<Bars label="{one.question.title}: how often each was chosen" counts={one.counts} />
						</div>
						{#if one.others.length > 0}<ul class="mt-2 text-sm">
								{#each one.others as said (said.id)}<li>“{said.words}” <span class="text-(--half)">{said.clientName}</span></li>{/each}
							</ul>{/if}
					{:else if one.as === 'numbers'}
						<dl class="mt-2 flex flex-wrap gap-x-8 text-sm tabular-nums">
							{#each [['least', one.least], ['middle', one.middle], ['most', one.most], ['together', one.sum]] as [words, value] (words)}<div
									class="flex gap-2"
								>
									<dt class="text-(--half)">{words}</dt>
									<dd>{figure(Number(value), one.question)}{@render unit(one.question.answer)}</dd>
								</div>{/each}
						</dl>
					{:else if one.as === 'words'}
						<ul class="mt-2 space-y-1 text-[0.92rem]">
							{#each one.said as said (said.id)}<li class="break-words whitespace-pre-line">
									{said.words} <span class="text-[0.82rem] text-(--half)">— {said.clientName}</span>
								</li>{/each}
						</ul>
					{/if}
				</li>
			{/each}
		</ol>
	{:else if data.total > 0}
		<!-- a wide table is moved through by keyboard too -->
		<!-- svelte-ignore a11y_no_noninteractive_tabindex -->
		<div class="wide mt-5" tabindex="0" role="region" aria-label="Answers by client">
			<table>
				<thead>
					<tr>
						{#each [{ key: '', title: 'Client' }, ...data.questions] as column (column.key)}<th
								scope="col"
								aria-sort={by === column.key ? (down ? 'descending' : 'ascending') : undefined}
								><button type="button" onclick={() => sort(column.key)}>{column.title}{by === column.key ? (down ? ' ↓' : ' ↑') : ''}</button></th
							>{/each}
					</tr>
				</thead>
				<tbody>
					{#each sorted as row (row.id)}<tr>
							<th scope="row"
								>{#if row.clientId}<a class="act-link" href="/desk/clients/{row.clientId}/item/{row.id}">{row.clientName}</a>
								{:else if row.public === 'waiting'}<a class="act-link" href="/desk/rounds/public-{row.id}">{row.clientName}</a>
								{:else}{row.clientName}{/if}<span class="block text-[0.78rem] font-normal text-(--half)"
									>{[row.contactName === row.clientName ? '' : row.contactName, row.atWords, row.public ? 'on the public page' : '']
										.filter(Boolean)
										.join(', ')}</span
								>{#if row.public === 'kept' && data.mayJudge}{@render back(row.id, row.clientName)}{/if}</th
							>
							{#each data.questions as { key, answer } (key)}<td>{key in row.answers ? answerInWords(answer, row.answers[key], reader) : ''}</td
								>{/each}
						</tr>{/each}
				</tbody>
			</table>
		</div>
	{/if}
	{#if data.putAway.length > 0}
		<details class="mt-6 text-sm">
			<summary class="act-link cursor-pointer"
				>{data.putAway.length === 1 ? 'One answer was put away' : `${data.putAway.length} answers were put away`}</summary
			>
			<ul class="mt-2 space-y-1">
				{#each data.putAway as one (one.id)}<li class="flex items-baseline gap-4">
						<span>{one.name}, {one.cameAt}</span>{#if data.mayJudge}{@render back(one.id, one.name)}{/if}
					</li>{/each}
			</ul>
		</details>
	{/if}
</WholeSheet>

<style>
	.counts th {
		padding: 3px 16px 3px 0;
		font-weight: 400;
		text-align: left;
	}
	.counts td {
		padding: 3px 0 3px 12px;
		text-align: right;
		font-variant-numeric: tabular-nums;
	}
	.counts {
		font-size: 0.9rem;
		line-height: 23px;
	}
	.wide {
		max-height: calc(100dvh - 220px);
		overflow: auto;
		border: 1px solid var(--rule-strong);
	}
	.wide table {
		border-collapse: collapse;
		font-size: 0.84rem;
	}
	.wide th,
	.wide td {
		min-width: 9rem;
		max-width: 20rem;
		padding: 6px 10px;
		border-bottom: 1px solid var(--rule);
		text-align: left;
		vertical-align: top;
		white-space: pre-line;
		background: var(--sheet);
	}
	.wide thead th {
		position: sticky;
		top: 0;
		z-index: 2;
		border-bottom: 1px solid var(--rule-strong);
	}
	.wide th:first-child {
		position: sticky;
		left: 0;
		z-index: 1;
		border-right: 1px solid var(--rule);
	}
	.wide thead button {
		font-weight: 600;
		text-align: left;
	}
</style>
