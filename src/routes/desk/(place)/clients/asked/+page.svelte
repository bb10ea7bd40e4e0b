<script lang="ts">
	import { may } from '$lib/core/people/roles';
	import { page } from '$app/state';
	import { ITEM_KINDS } from '$lib/core/items/item-kinds';
	import { ITEM_STATE_SHORT } from '$lib/core/requests/item-states';
	import { daysLate } from '$lib/core/requests/lateness';
	import type { ManyAct } from '$lib/core/requests/many-acts';
	import { tickOf } from '$lib/core/requests/tick-strip';
	import type { ManyResult } from '$lib/server/requests/act-on-many';
	import { dateWords } from '$lib/words/dates';
	import { enhancedForm } from '$lib/ui/forms/enhanced-form';
	import { choosing } from '$lib/ui/desk/choosing.svelte';
	import ManyActs from '$lib/ui/asking/ManyActs.svelte';
	import TickMark from '$lib/ui/ticks/TickMark.svelte';
	import TickStrip from '$lib/ui/ticks/TickStrip.svelte';

	let { data } = $props();
	const chosen = choosing('asked');
	let act = $state<ManyAct | null>(null);
	let problem = $state('');
	let done = $state<{ act: ManyAct | null; words: string; results: ManyResult[]; undo: string | null } | null>(null);
	const show = $derived(data.query.show);
	const by = $derived(data.query.by);
	const what = $derived(show === 'drafts' ? 'draft' : by);
	const rows = $derived<{ id: string; lines: number }[]>(
		what === 'draft' ? data.drafts : what === 'line' ? data.items.map(({ id }) => ({ id, lines: 1 })) : data.together
	);
	const picked = $derived(rows.filter((row) => chosen.has(row.id)));
	const ids = $derived(picked.map((row) => row.id));
	const lines = $derived(picked.reduce((sum, row) => sum + row.lines, 0));
	const SHOW = [
		['late', 'Late'],
		['open', 'Open'],
		['handed_in', 'To look at'],
		['drafts', 'Drafts']
	] as const;
	const BY = [
		['line', 'line by line'],
		['request', 'by request'],
		['client', 'by client']
	] as const;
	const counted = (n: number, one: string) => (n === 1 ? `one ${one}` : `${n} ${one}s`);
	const query = $derived<Record<string, string>>({
		show,
		by,
		...(data.query.mine ? { mine: '1' } : {}),
		...(data.query.words ? { words: data.query.words } : {})
	});
	const link = (to: Record<string, string | null>) => {
		const address = new URLSearchParams();
		for (const [name, value] of Object.entries({ ...query, ...to })) if (value && !(name === 'by' && value === 'line')) address.set(name, value);
		return `/desk/clients/asked?${address}`;
	};
	const DONE: Record<ManyAct, string> = {
		extend: 'moved',
		plan: 'with other reminders',
		person: 'asked of somebody else',
		waive: 'waived',
		withdraw: 'withdrawn',
		accept: 'accepted',
		send: 'sent',
		remove: 'deleted'
	};
	function onDone(act: ManyAct, given: unknown) {
		const results = given as ManyResult[];
		const good = results.filter((one) => !one.problem);
		const undo = good.flatMap((one) => one.undo ?? []);
		const thing = what === 'draft' ? 'draft' : 'line';
		done = {
			act,
			words: `${counted(good.length, thing).replace(/^o/, 'O')} ${DONE[act]}${results.length > good.length ? `, ${results.length - good.length} not` : ''}.`,
			results,
			undo: undo.length > 0 ? JSON.stringify(undo) : null
		};
		// the choice stays, for whatever else is to be done with it
		close();
	}
	function close() {
		act = null;
	}
	const all = $derived(rows.length > 0 && picked.length === rows.length);
	function toggleAll() {
		if (all) chosen.clear();
		else chosen.set(rows.map((row) => row.id));
	}
	const STANDS = {
		no_contact: 'nobody chosen',
		no_address: 'no address yet',
		bounced: 'mail came back',
		suspended: 'suspended',
		closed: 'the client is on hold',
		waits: 'waits for its letter'
	} as const;
	const ACTS: Record<ManyAct, string> = {
		extend: 'Due date …',
		plan: 'Reminders …',
		person: 'Who answers …',
		accept: 'Accept …',
		waive: 'Waive …',
		withdraw: 'Withdraw …',
		send: 'Send …',
		remove: 'Delete …'
	};
	/** what somebody's role does with what is shown; whoever does nothing with it chooses nothing */
	const mayAct = $derived(may(data.person.role, show === 'drafts' ? 'send_request' : 'judge_item'));
	const offered = $derived<ManyAct[]>(
		show === 'drafts'
			? ['send', 'extend', 'plan', 'person', 'remove']
			: show === 'handed_in'
				? ['accept', 'waive', 'withdraw']
				: ['extend', 'plan', 'person', 'waive', 'withdraw']
	);
</script>

<svelte:head><title>Asked · {data.firm.name}</title></svelte:head>

{#snippet box(id: string, name: string)}
	<td class="margin"
		>{#if mayAct}<input
				type="checkbox"
				checked={chosen.has(id)}
				onclick={(event) => chosen.toggle(event, id, rows)}
				aria-label="Choose {name}"
			/>{/if}</td
	>
{/snippet}
{#snippet due(dueOn: string | null, late: number)}
	<td class="text-right whitespace-nowrap"
		>{#if late > 0}<b class="text-(--lamp-deep)">{late} {late === 1 ? 'day' : 'days'} late</b>{:else}{dueOn ? dateWords('en', dueOn) : '–'}{/if}</td
	>
{/snippet}

<main id="sheet" class="sheet choosing" tabindex="-1">
	<div class="masthead">
		<p class="text-sm"><a class="act-link" href="/desk/clients">Clients</a></p>
		<div class="flex flex-wrap items-baseline gap-x-5 gap-y-1">
			<h1 class="text-[1.65rem] leading-tight">Asked</h1>
			<nav class="flex gap-1 text-sm" aria-label="Show">
				{#each SHOW as [key, words] (key)}<a class="only" href={link({ show: key })} aria-current={show === key ? 'true' : undefined}>{words}</a
					>{/each}
			</nav>
			<form class="flex items-center gap-3 text-sm" action={page.url.pathname}>
				{#each Object.entries(query).filter(([name]) => name !== 'words') as [name, value] (name)}<input type="hidden" {name} {value} />{/each}
				<input
					class="line-input !w-56"
					name="words"
					value={data.query.words ?? ''}
					placeholder="a word of line, request or client"
					aria-label="Only with these words"
				/>
			</form>
			<a class="act-link text-sm" href={link({ mine: data.query.mine ? null : '1' })}>{data.query.mine ? 'Everybody’s' : 'Only mine'}</a>
			{#if may(data.person.role, 'send_request')}<a class="act-quiet ml-auto" href="/desk/clients/ask">Ask many</a>{/if}
		</div>
		{#if show !== 'drafts'}
			<nav class="mt-1 flex gap-1 text-sm" aria-label="Choose">
				{#each BY as [key, words] (key)}<a class="only" href={link({ by: key })} aria-current={by === key ? 'true' : undefined}>{words}</a>{/each}
			</nav>
		{/if}
		{#if problem}<p class="notice-wrong mt-2" role="alert">{problem}</p>{/if}
		{#if done}
			<div class="notice-lamp mt-2" role="status">
				<b>{done.words}</b>
				{#if done.undo}
					<form
						method="post"
						action="?/undo"
						class="ml-2 inline"
						{@attach enhancedForm({
							onProblem: (p) => (problem = p.message),
							onSuccess: (answer) => {
								problem = '';
								const late = Number(answer?.of ?? answer?.undone) - Number(answer?.undone);
								done = {
									act: null,
									words: `${answer?.undone} taken back.${late > 0 ? ` ${late} had left already, or was changed; withdraw what is not wanted.` : ''}`,
									results: [],
									undo: null
								};
							}
						})}
					>
						<input type="hidden" name="show" value={show} /><input type="hidden" name="act" value={done.act} /><input
							type="hidden"
							name="undo"
							value={done.undo}
						/><button class="act-link">Undo</button>
					</form>
				{/if}
				{#each done.results.filter((one) => one.problem) as one (one.id)}<p class="text-sm">
						{one.clientName}, {one.title}: {one.problem}
					</p>{/each}
				{#if done.results.some((one) => !one.problem)}
					<details class="text-sm">
						<summary class="cursor-pointer">Line by line</summary>
						<ul class="max-h-48 overflow-auto">
							{#each done.results.filter((one) => !one.problem) as one (one.id)}<li>{one.clientName}, {one.title}</li>{/each}
						</ul>
					</details>
				{/if}
			</div>
		{/if}
	</div>
	{#if rows.length === 0}<p class="py-8 pl-[104px] text-(--half)">
			{data.query.words
				? `Nothing here has “${data.query.words}” in it.`
				: show === 'late'
					? 'Nothing is late.'
					: show === 'drafts'
						? 'No drafts. “Ask many” makes some from a list.'
						: show === 'handed_in'
							? 'Nothing waits to be looked at.'
							: 'Nothing is open.'}
		</p>
	{:else}
		<table class="list">
			<thead
				><tr
					><th class="margin"
						>{#if mayAct}<input type="checkbox" checked={all} onchange={toggleAll} aria-label="Choose all {rows.length}" />{:else}<span class="sr"
								>choice</span
							>{/if}</th
					><th>client</th><th>what</th><th>to</th><th class="text-right">{what === 'draft' ? 'lines' : what === 'line' ? 'due' : 'first due'}</th><th
						>{what === 'draft' ? 'changed' : 'state'}</th
					></tr
				></thead
			>
			<tbody>
				{#if what === 'draft'}
					{#each data.drafts as draft (draft.id)}
						<tr class:lit={chosen.has(draft.id)}>
							{@render box(draft.id, `${draft.title || 'Untitled request'} for ${draft.clientName}`)}
							<td>{draft.clientName}</td>
							<td
								>{#if mayAct}<a class="underline decoration-dotted underline-offset-2" href="/desk/clients/{draft.clientId}/ask?draft={draft.id}"
										>{draft.title || 'Untitled request'}</a
									>{:else}{draft.title || 'Untitled request'}{/if}</td
							>
							<td class="text-(--half)">{draft.contactName ?? '–'}</td>
							<td class="text-right">{draft.lines}</td>
							<td class="text-(--half)"
								>{#if draft.problem}<span class="text-(--lamp-deep)">{draft.problem}</span>{:else if draft.stands}<span class="text-(--lamp-deep)"
										>{STANDS[draft.stands]}</span
									>{:else}{draft.changedBy.split(' ')[0]}, {draft.changedAt}{/if}</td
							>
						</tr>
					{/each}
				{:else if what === 'line'}
					{#each data.items as item (item.id)}
						<tr class:lit={chosen.has(item.id)}>
							{@render box(item.id, `${item.title} of ${item.clientName}`)}
							<td>{item.clientName}</td>
							<td
								><a class="underline decoration-dotted underline-offset-2" href="/desk/clients/{item.clientId}/item/{item.id}">{item.title}</a>
								<span class="text-(--half)">{item.requestTitle}, {ITEM_KINDS[item.kind].words.short}</span></td
							>
							<td class="text-(--half)">{item.contactName}</td>
							{@render due(item.dueOn, daysLate(item, data.today))}
							<td class="whitespace-nowrap text-(--half)"><TickMark tick={tickOf(item, data.today)} size={12} /> {ITEM_STATE_SHORT[item.state]}</td>
						</tr>
					{/each}
				{:else}
					{#each data.together as one (one.id)}
						<tr class:lit={chosen.has(one.id)}>
							{@render box(one.id, `${counted(one.lines, 'line')} of ${by === 'request' ? `${one.title}, ` : ''}${one.clientName}`)}
							<td>{one.clientName}</td>
							<td
								><a class="underline decoration-dotted underline-offset-2" href="/desk/clients/{one.clientId}"
									>{one.title ?? counted(one.requests, 'request')}</a
								> <span class="text-(--half)">{counted(one.lines, 'line')}</span></td
							>
							<td class="text-(--half)">{one.people.slice(0, 2).join(', ')}{one.people.length > 2 ? ` and ${one.people.length - 2} more` : ''}</td>
							{@render due(one.dueOn, show === 'handed_in' ? 0 : daysLate({ state: 'asked', dueOn: one.dueOn }, data.today))}
							<td class="whitespace-nowrap"><TickStrip runs={one.ticks} /></td>
						</tr>
					{/each}
				{/if}
			</tbody>
		</table>
		{#if data.next !== null || data.query.after > 0}<p class="flex gap-4 py-3 pl-[104px] text-sm">
				{#if data.query.after > 0}<a class="act-link" href={link({ after: null })}>From the beginning</a>{/if}
				{#if data.next !== null}<a class="act-link" href={link({ after: String(data.next) })}>The next ones</a>{/if}
			</p>{/if}
		{#if mayAct}<div class="bar" class:resting={picked.length === 0}>
				{#if picked.length === 0}<span class="text-(--half)">Choose rows to do something with all of them.</span>
				{:else}
					<b class="mr-2"
						>{what === 'line' || what === 'draft' ? counted(picked.length, what) : `${counted(picked.length, what)}, ${counted(lines, 'line')}`}</b
					>
					{#each offered as one, i (one)}<button class={i === 0 ? 'act' : 'act-quiet'} aria-haspopup="dialog" onclick={() => (act = one)}
							>{ACTS[one]}</button
						>{/each}
					<button class="act-link ml-auto" onclick={() => chosen.clear()}>Choose none</button>
				{/if}
			</div>{/if}
	{/if}
</main>
{#if act}{#key act}<ManyActs {act} {ids} {query} plans={data.plans} today={data.today} {close} done={onDone} />{/key}{/if}
