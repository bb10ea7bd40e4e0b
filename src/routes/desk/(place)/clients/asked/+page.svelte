<script lang="ts">
	import { SvelteSet } from 'svelte/reactivity';
	import { page } from '$app/state';
	import { addDays } from '$lib/core/calendar/firm-calendar';
	import { ITEM_KIND_WORDS } from '$lib/core/requests/item-kinds';
	import { ITEM_STATE_SHORT } from '$lib/core/requests/item-states';
	import { daysLate } from '$lib/core/requests/lateness';
	import { tickOf } from '$lib/core/requests/tick-strip';
	import type { ManyResult } from '$lib/server/requests/many';
	import { dateWords } from '$lib/words/dates';
	import { enhancedForm } from '$lib/ui/enhanced-form';
	import TickMark from '$lib/ui/TickMark.svelte';

	let { data } = $props();
	const chosen = new SvelteSet<string>();
	let dueOn = $state('');
	/** a plan of reminders, or a person, to be set */
	let change = $state('');
	let problem = $state('');
	let pending = $state(false);
	let sure = $state<'waive' | 'withdraw' | 'remove' | null>(null);
	let done = $state<{ words: string; problems: { title: string; clientName: string; problem: string | null }[]; undo: string | null } | null>(null);
	const show = $derived(data.query.show);
	const keys = $derived(show === 'drafts' ? data.drafts.map((draft) => draft.id) : data.items.map((item) => item.id));
	const picked = $derived(keys.filter((key) => chosen.has(key)));
	const items = $derived(JSON.stringify(data.items.filter((item) => chosen.has(item.id)).map(({ id, version }) => ({ id, version }))));
	const drafts = $derived(JSON.stringify(picked));
	const SHOW = [
		['late', 'Late'],
		['open', 'Open'],
		['handed_in', 'To look at'],
		['drafts', 'Drafts']
	] as const;
	const things = (n: number) => (n === 1 ? 'one line' : `${n} lines`);
	const link = (to: Record<string, string | null>) => {
		const query = new URLSearchParams();
		for (const [name, value] of Object.entries({ show, mine: data.query.mine ? '1' : null, words: data.query.words, ...to }))
			if (value) query.set(name, value);
		return `/desk/clients/asked?${query}`;
	};
	const WORDS: Record<string, string> = {
		extend: 'moved',
		plan: 'with other reminders',
		person: 'asked of somebody else',
		waive: 'waived',
		withdraw: 'withdrawn',
		accept: 'accepted'
	};
	const handling = {
		onPending: (p: boolean) => (pending = p),
		onProblem: (p: { message: string }) => (problem = p.message),
		onSuccess: (answer: Record<string, unknown> | undefined) => {
			problem = '';
			sure = null;
			change = '';
			chosen.clear();
			if (answer?.undone !== undefined) done = { words: `${answer.undone} taken back.`, problems: [], undo: null };
			else if (answer?.removed !== undefined) done = { words: `${answer.removed} thrown away.`, problems: [], undo: null };
			else if (answer?.results) {
				const results = answer.results as ManyResult[];
				const good = results.filter((one) => !one.problem);
				const undo = good.flatMap((one) => (one.undo ? [{ itemId: one.itemId, ...one.undo }] : []));
				done = {
					words: `${things(good.length)} ${show === 'drafts' ? 'sent' : (WORDS[act] ?? 'done')}${results.length > good.length ? `, ${results.length - good.length} not` : ''}.`,
					problems: results.filter((one) => one.problem),
					undo: undo.length > 0 ? JSON.stringify(undo) : null
				};
			}
		}
	};
	let act = $state('');
	const all = $derived(keys.length > 0 && picked.length === keys.length);
	function toggleAll() {
		if (all) chosen.clear();
		else for (const key of keys) chosen.add(key);
	}
	const STANDS = { no_contact: 'nobody chosen', no_address: 'no address yet', bounced: 'mail came back', closed: 'the client rests' } as const;
</script>

<svelte:head><title>Asked · {data.firm.name}</title></svelte:head>

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
				<input type="hidden" name="show" value={show} />
				<input
					class="line-input !w-56"
					name="words"
					value={data.query.words ?? ''}
					placeholder="a word of line, request or client"
					aria-label="Only with these words"
				/>
			</form>
			<a class="act-link text-sm" href={link({ mine: data.query.mine ? null : '1' })}>{data.query.mine ? 'Everybody’s' : 'Only mine'}</a>
			<a class="act-quiet ml-auto" href="/desk/clients/ask">Ask many</a>
		</div>
		{#if problem}<p class="notice-wrong mt-2" role="alert">{problem}</p>{/if}
		{#if done}
			<div class="notice-lamp mt-2" role="status">
				<b>{done.words}</b>
				{#if done.undo}
					<form method="post" action="?/undo" class="ml-2 inline" {@attach enhancedForm(handling)}>
						<input type="hidden" name="undo" value={done.undo} /><button class="act-link">Take it back</button>
					</form>
				{/if}
				{#each done.problems as one, i (i)}<p class="text-sm">{one.clientName}, {one.title}: {one.problem}</p>{/each}
			</div>
		{/if}
	</div>
	{#if keys.length === 0}<p class="py-8 pl-[104px] text-(--half)">
			{show === 'late'
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
					><th class="margin"><input type="checkbox" checked={all} onchange={toggleAll} aria-label="Choose all {keys.length}" /></th><th>client</th
					><th>what</th><th>to</th><th class="text-right">{show === 'drafts' ? 'lines' : 'due'}</th><th>{show === 'drafts' ? 'changed' : 'state'}</th
					></tr
				></thead
			>
			<tbody>
				{#if show === 'drafts'}
					{#each data.drafts as draft (draft.id)}
						<tr class:lit={chosen.has(draft.id)}>
							<td class="margin"
								><input
									type="checkbox"
									checked={chosen.has(draft.id)}
									onchange={() => (chosen.has(draft.id) ? chosen.delete(draft.id) : chosen.add(draft.id))}
									aria-label="Choose {draft.title || 'Untitled request'} for {draft.clientName}"
								/></td
							>
							<td>{draft.clientName}</td>
							<td
								><a class="underline decoration-dotted underline-offset-2" href="/desk/clients/{draft.clientId}/ask?draft={draft.id}"
									>{draft.title || 'Untitled request'}</a
								></td
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
				{:else}
					{#each data.items as item (item.id)}
						{@const late = daysLate(item, data.today)}
						<tr class:lit={chosen.has(item.id)}>
							<td class="margin"
								><input
									type="checkbox"
									checked={chosen.has(item.id)}
									onchange={() => (chosen.has(item.id) ? chosen.delete(item.id) : chosen.add(item.id))}
									aria-label="Choose {item.title} of {item.clientName}"
								/></td
							>
							<td>{item.clientName}</td>
							<td
								><a class="underline decoration-dotted underline-offset-2" href="/desk/clients/{item.clientId}/item/{item.id}">{item.title}</a>
								<span class="text-(--half)">{item.requestTitle}, {ITEM_KIND_WORDS[item.kind].short}</span></td
							>
							<td class="text-(--half)">{item.contactName}</td>
							<td class="text-right whitespace-nowrap"
								>{#if late > 0}<b class="text-(--lamp-deep)">{late} {late === 1 ? 'day' : 'days'} late</b>{:else}{item.dueOn
										? dateWords('en', item.dueOn)
										: '–'}{/if}</td
							>
							<td class="whitespace-nowrap text-(--half)"><TickMark tick={tickOf(item, data.today)} size={12} /> {ITEM_STATE_SHORT[item.state]}</td>
						</tr>
					{/each}
				{/if}
			</tbody>
		</table>
		{#if data.next !== null || data.query.after > 0}<p class="flex gap-4 py-3 pl-[104px] text-sm">
				{#if data.query.after > 0}<a class="act-link" href={link({ after: null })}>From the beginning</a>{/if}
				{#if data.next !== null}<a class="act-link" href={link({ after: String(data.next) })}>The next ones</a>{/if}
			</p>{/if}
		<div class="bar" class:resting={picked.length === 0}>
			{#if picked.length === 0}<span class="text-(--half)">Choose lines to do something with all of them.</span>
			{:else if show === 'drafts'}
				<form method="post" action="?/sendDrafts" {@attach enhancedForm(handling)}>
					<input type="hidden" name="drafts" value={drafts} /><button class="act" disabled={pending}
						>{pending ? 'Sending …' : `Send ${picked.length === 1 ? 'one draft' : `${picked.length} drafts`}`}</button
					>
				</form>
				{#if sure === 'remove'}
					<form method="post" action="?/removeDrafts" {@attach enhancedForm(handling)}>
						<input type="hidden" name="drafts" value={drafts} /><button class="act-quiet" disabled={pending}
							>Throw away {picked.length}, they cannot come back</button
						>
					</form>
				{:else}<button class="act-quiet" onclick={() => (sure = 'remove')}>Throw away …</button>{/if}
			{:else}
				<b>{things(picked.length)}</b>
				{#if show === 'handed_in'}
					<form method="post" action="?/act" {@attach enhancedForm({ ...handling, onPending: (p) => ((pending = p), p && (act = 'accept')) })}>
						<input type="hidden" name="act" value="accept" /><input type="hidden" name="items" value={items} />
						<button class="act" disabled={pending}>Accept {picked.length}</button>
					</form>
				{:else}
					<form
						method="post"
						action="?/act"
						class="flex gap-2"
						{@attach enhancedForm({ ...handling, onPending: (p) => ((pending = p), p && (act = 'extend')) })}
					>
						<input type="hidden" name="act" value="extend" /><input type="hidden" name="items" value={items} />
						<input type="date" name="dueOn" class="line-input !w-auto" bind:value={dueOn} min={data.today} aria-label="New due date" required />
						<button class="act" disabled={pending}>Move the due date</button>
						{#if !dueOn}<button type="button" class="act-link text-sm" onclick={() => (dueOn = addDays(data.today, 7))}>in a week</button>{/if}
					</form>
				{/if}
				{#if show !== 'handed_in'}
					<form
						method="post"
						action="?/act"
						class="flex gap-2"
						{@attach enhancedForm({ ...handling, onPending: (p) => ((pending = p), p && (act = change.startsWith('rank') ? 'person' : 'plan')) })}
					>
						<input type="hidden" name="items" value={items} />
						<input type="hidden" name="act" value={change.startsWith('rank') ? 'person' : 'plan'} />
						{#if change.startsWith('rank')}<input type="hidden" name="rank" value={change.slice(5)} />
						{:else}<input type="hidden" name="plan" value={change.slice(5)} />{/if}
						<select class="line-input !w-72" bind:value={change} aria-label="Reminders, or who answers">
							<option value="">Reminders, or who answers …</option>
							{#each data.plans as plan (plan.key)}<option value="plan {plan.key}">{plan.name}: {plan.words}</option>{/each}
							<option value="rank 1">asked of their first person</option><option value="rank 2">asked of their second person</option><option
								value="rank 3">asked of their third person</option
							>
						</select>
						{#if change}<button class="act-quiet" disabled={pending}>Set it</button>{/if}
					</form>
				{/if}
				{#if sure === 'waive' || sure === 'withdraw'}
					<form method="post" action="?/act" {@attach enhancedForm({ ...handling, onPending: (p) => ((pending = p), p && (act = sure ?? 'waive')) })}>
						<input type="hidden" name="act" value={sure} /><input type="hidden" name="items" value={items} />
						<button class="act-quiet" disabled={pending}
							>{sure === 'waive' ? 'Waive' : 'Withdraw'} {things(picked.length)}; nobody is asked for them any more</button
						>
					</form>
				{:else}
					<button class="act-quiet" onclick={() => (sure = 'waive')}>Waive …</button>
					<button class="act-quiet" onclick={() => (sure = 'withdraw')}>Withdraw …</button>
				{/if}
			{/if}
		</div>
	{/if}
</main>
