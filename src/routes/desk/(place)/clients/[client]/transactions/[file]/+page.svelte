<script lang="ts">
	import { untrack } from 'svelte';
	import { SvelteSet } from 'svelte/reactivity';
	import { page } from '$app/state';
	import { ITEM_STATE_SHORT, type ItemState } from '$lib/core/requests/item-states';
	import { ASKED_LINES_MAX, STATEMENT_LINE_QUESTION_WORDS } from '$lib/core/transactions/statement-line-questions';
	import { enhancedForm } from '$lib/ui/forms/enhanced-form';
	import { amountWords } from '$lib/words/amounts';
	import { dateWords } from '$lib/words/dates';

	let { data } = $props();
	/** whoever may not ask looks at the lines, and chooses none */
	const mayAsk = $derived(data.acts.includes('send_request'));
	const file = $derived(data.file);
	const chosen = new SvelteSet<string>();
	let everything = $state(false);
	let problem = $state('');
	let pending = $state(false);
	let showReading = $state(untrack(() => data.file.missing !== null));
	let sure = $state(false);
	const choosable = $derived(data.lines.filter((line) => !line.askedItem));
	const picked = $derived([...chosen].filter((id) => choosable.some((line) => line.id === id)));
	const all = $derived(choosable.length > 0 && picked.length === choosable.length);
	const count = $derived(everything ? data.count : picked.length);
	const handling = {
		onPending: (p: boolean) => (pending = p),
		onProblem: (p: { message: string }) => (problem = p.message),
		onSuccess: () => {
			problem = '';
			showReading = false;
			chosen.clear();
			everything = false;
		}
	};
	const ONLY = $derived(
		(
			[
				['all', 'All'],
				['uncategorised', 'Without a category'],
				...(file.hasDocuments ? [['no_document', 'Without a document']] : []),
				['out', 'Paid'],
				['in', 'Received']
			] as const
		).filter(([key]) => key !== 'uncategorised' || file.hasCategories)
	);
	function link(change: Record<string, string | null>): string {
		const query = new URLSearchParams(page.url.searchParams);
		query.delete('after');
		for (const [name, value] of Object.entries(change)) {
			if (value) query.set(name, value);
			else query.delete(name);
		}
		return `?${query}`;
	}
	function toggleAll() {
		everything = false;
		if (all) chosen.clear();
		else for (const line of choosable) chosen.add(line.id);
	}
	const lineWords = (n: number) => (n === 1 ? 'one line' : `${n.toLocaleString('en')} lines`);
</script>

<svelte:head><title>{file.name} · {data.client.name}</title></svelte:head>

<main id="sheet" class="sheet choosing" tabindex="-1">
	<div class="masthead">
		<p class="text-sm">
			<a class="act-link" href="/desk/clients/{data.client.id}">{data.client.name}</a> ·
			<a class="act-link" href="/desk/clients/{data.client.id}/transactions">Questions about transactions</a>
		</p>
		<div class="flex flex-wrap items-baseline gap-x-4 gap-y-1">
			<h1 class="text-[1.65rem] leading-tight break-all">{file.name}</h1>
			<p class="text-sm text-(--half)">
				{file.formatWords}{file.account ? `, ${file.account}` : ''}; {lineWords(file.lines)}{file.asked > 0 ? `, ${file.asked} asked about` : ''}
			</p>
			<span class="ml-auto flex gap-4 text-sm">
				<a class="act-link" href="/desk/clients/{data.client.id}/transactions/{file.id}/papers">Papers of its lines</a>
				{#if mayAsk && (file.format === 'csv' || file.format === 'qif')}<button
						class="act-link"
						aria-expanded={showReading}
						onclick={() => (showReading = !showReading)}>How it is read …</button
					>{/if}
				{#if mayAsk && file.asked === 0}<button class="act-link" aria-expanded={sure} onclick={() => (sure = !sure)}>Delete the file …</button>{/if}
			</span>
		</div>
		{#if problem}<p class="notice-wrong mt-2" role="alert">{problem}</p>{/if}
		{#if sure}
			<form method="post" action="?/remove" class="notice-lamp mt-2" {@attach enhancedForm(handling)}>
				Nothing of it was asked about yet; its lines go with it. <button class="act-quiet ml-2" disabled={pending}>Delete it</button>
			</form>
		{/if}
		{#if file.missing}<p class="notice-lamp mt-2"><b>{file.missing}</b> Then its lines can be read.</p>
		{:else if file.order === null && (file.format === 'csv' || file.format === 'qif') && !file.choices.order}<p class="notice-lamp mt-2">
				Nothing in this file tells day and month apart. They are read as month, day, year; if that is wrong,
				{#if mayAsk}<button class="act-link" onclick={() => (showReading = true)}>say how it is read</button>{:else}whoever asks about them can say so{/if}.
			</p>{/if}
		{#if showReading}
			<form method="post" action="?/readAgain" class="mt-3 border border-(--rule-strong) bg-(--sheet) p-4" {@attach enhancedForm(handling)}>
				{#if file.asked > 0}<p class="mb-3 text-sm text-(--half)">Lines of this file were asked about, so it stays as it was read.</p>{/if}
				<fieldset disabled={file.asked > 0} class="space-y-3">
					{#if file.format === 'csv'}
						<div class="overflow-x-auto">
							<table class="text-sm">
								<thead
									><tr
										>{#each file.header as heading, i (i)}<th class="pr-3 pb-1 text-left align-bottom font-normal"
												><span class="block max-w-40 truncate text-(--half)">{heading}</span><select
													name="column"
													class="line-input !max-w-40 !px-1.5 !py-1 text-sm"
													aria-label="What the column {heading} holds"
													value={file.columns[i] ?? ''}
													><option value="">not needed</option>{#each data.columnChoices as choice (choice.column)}<option value={choice.column}
															>{choice.label}</option
														>{/each}</select
												></th
											>{/each}</tr
									></thead
								>
								<tbody>
									{#each file.sample as cells, r (r)}<tr
											>{#each file.header as _, i (i)}<td class="max-w-40 truncate pr-3 text-(--half)">{cells[i] ?? ''}</td>{/each}</tr
										>{/each}
								</tbody>
							</table>
						</div>
					{/if}
					<div class="flex flex-wrap items-end gap-4">
						<label class="field"
							><span>Days are written as</span><select name="order" value={file.choices.order ?? ''}
								><option value="">as the file tells{file.order ? `: ${data.orders.find((one) => one.order === file.order)?.label}` : ''}</option
								>{#each data.orders as one (one.order)}<option value={one.order}>{one.label}</option>{/each}</select
							></label
						>
						{#if file.format === 'csv'}<label class="flex gap-2 pb-2 text-sm"
								><input type="checkbox" name="flip" value="yes" checked={file.choices.flip} /> what was spent is written without a minus</label
							>{/if}
						<button class="act-quiet" disabled={pending}>{pending ? 'Reading …' : 'Read it this way'}</button>
					</div>
				</fieldset>
			</form>
		{/if}
		{#if file.unread > 0 && !file.missing}
			<details class="mt-2 text-sm">
				<summary class="cursor-pointer">{lineWords(file.unread)} could not be read</summary>
				<ul class="mt-1 space-y-0.5 text-(--half)">
					{#each file.unreadLines as words, i (i)}<li class="break-words">{words}</li>{/each}
				</ul>
				{#if file.unread > file.unreadLines.length}<p class="text-(--half)">and {lineWords(file.unread - file.unreadLines.length)} more.</p>{/if}
			</details>
		{/if}
		<form class="mt-3 flex flex-wrap items-center gap-x-4 gap-y-2 text-sm" action={page.url.pathname}>
			<nav class="flex flex-wrap gap-1" aria-label="Show">
				{#each ONLY as [key, words] (key)}<a
						class="only"
						href={link({ only: key === 'all' ? null : key })}
						aria-current={data.filter.only === key ? 'true' : undefined}>{words}</a
					>{/each}
			</nav>
			<input type="hidden" name="only" value={data.filter.only} />
			{#if data.filter.asked}<input type="hidden" name="asked" value="1" />{/if}
			<label class="flex items-center gap-2"
				>from <input name="over" class="line-input !w-24" inputmode="decimal" value={data.filter.over ?? ''} aria-label="From which amount" /></label
			>
			<input name="words" class="line-input !w-52" value={data.filter.words} placeholder="a word in it" aria-label="Only with these words" />
			<button class="act-link">Show</button>
			{#if data.filter.asked}<a class="act-link" href={link({ asked: null })}>Hide what was asked before</a>
			{:else if data.askedBefore > 0}<a class="act-link" href={link({ asked: '1' })}>{lineWords(data.askedBefore)} asked before are hidden</a>{/if}
		</form>
	</div>

	<form method="post" action="?/ask" {@attach enhancedForm(handling)}>
		{#each Object.entries( { only: data.filter.only, over: data.filter.over ?? '', words: data.filter.words, asked: data.filter.asked ? '1' : '' } ) as [name, value] (name)}<input
				type="hidden"
				{name}
				{value}
			/>{/each}
		{#if everything}<input type="hidden" name="all" value="yes" />{/if}
		{#if data.lines.length === 0}<p class="py-8 pl-[104px] text-(--half)">
				{file.lines === 0 ? 'No line could be read yet.' : 'No line is like that.'}
			</p>
		{:else}
			<table class="list">
				<thead
					><tr
						><th class="margin"
							>{#if mayAsk}<input type="checkbox" checked={all} onchange={toggleAll} aria-label="Choose all {choosable.length}" />{:else}<span
									class="sr">choice</span
								>{/if}</th
						><th>day</th><th>to or from</th><th>what it says</th>{#if file.hasCategories}<th>category</th>{/if}{#if file.hasDocuments}<th>document</th
							>{/if}<th class="text-right">amount</th></tr
					></thead
				>
				<tbody>
					{#each data.lines as line (line.id)}
						<tr class:lit={chosen.has(line.id)}>
							<td class="margin"
								>{#if line.askedItem}<span title="asked before" class="text-(--half)">asked</span>{:else if mayAsk}<input
										type="checkbox"
										name="line"
										value={line.id}
										checked={chosen.has(line.id)}
										onchange={() => {
											everything = false;
											if (chosen.has(line.id)) chosen.delete(line.id);
											else chosen.add(line.id);
										}}
										aria-label="Choose {line.who || line.words}, {line.amount} of {line.day}"
									/>{/if}</td
							>
							<td class="whitespace-nowrap">{dateWords('en', line.day, 'withYear')}</td>
							<td class="font-semibold break-words">{line.who || '–'}</td>
							<td class="break-words"
								><span class="text-(--half)">{line.words}</span>
								{#if line.askedItem}<a class="act-link block" href="/desk/clients/{data.client.id}/item/{line.askedItem.id}"
										>asked in “{line.askedItem.title}”, {ITEM_STATE_SHORT[line.askedItem.state as ItemState]}</a
									>{:else if line.alike}<a class="act-link block !text-(--lamp-deep)" href="/desk/clients/{data.client.id}/item/{line.alike.id}"
										>perhaps asked before: {line.alike.who}, {dateWords('en', line.alike.day)}</a
									>{/if}</td
							>
							{#if file.hasCategories}<td class="text-(--half)">{line.category || '–'}</td>{/if}
							{#if file.hasDocuments}<td class="text-(--half)">{line.document || '–'}</td>{/if}
							<td class="text-right whitespace-nowrap tabular-nums"
								>{line.amount.startsWith('-') ? '−' : ''}{amountWords('en', line.amount, line.currency)}</td
							>
						</tr>
					{/each}
				</tbody>
			</table>
			{#if data.next !== null}<p class="py-3 pl-[104px] text-sm">
					<a class="act-link" href={`${link({})}&after=${data.next}`}>The next ones</a>
				</p>{/if}
		{/if}
		{#if mayAsk && data.client.state === 'active' && data.lines.length > 0}
			<div class="bar" class:resting={count === 0}>
				{#if count === 0}<span class="text-(--half)">Choose the lines to ask about.</span>
				{:else}
					<b>{lineWords(count)}</b>
					{#if !everything && all && data.count > picked.length && data.count <= ASKED_LINES_MAX}<button
							type="button"
							class="act-link text-sm"
							onclick={() => (everything = true)}>Choose all {data.count} that match</button
						>{/if}
					<button class="act" name="asks" value="what" disabled={pending}>Ask {STATEMENT_LINE_QUESTION_WORDS.what} …</button>
					<button class="act-quiet" name="asks" value="paper" disabled={pending}>Ask for {STATEMENT_LINE_QUESTION_WORDS.paper} …</button>
				{/if}
			</div>
		{/if}
	</form>
</main>
