<script lang="ts">
	import { page } from '$app/state';
	import { dateWords } from '$lib/words/dates';
	import { may, type Act } from '$lib/core/people/roles';
	import type { Wait } from '$lib/core/requests/lateness';
	import Sheet from '$lib/ui/desk/Sheet.svelte';
	import TickMark from '$lib/ui/ticks/TickMark.svelte';
	import TickStrip from '$lib/ui/ticks/TickStrip.svelte';

	let { data, children } = $props();
	/** whether the person's role has an act: what they may not do is not offered */
	const mine = (act: Act) => may(data.person.role, act);
	const whole = $derived(
		/\/(ask|asked|standing|standing\/\[standing\]|transactions|transactions\/\[file\]|statements|statements\/\[\[cell\]\]|papers|papers\/folders|papers\/\[paper\]|import|import\/\[list\]|invite|invite\/\[run\]|people)$/.test(
			page.route.id ?? ''
		)
	);
	const open = $derived(page.params.client ?? (page.route.id?.endsWith('/new') ? 'new' : undefined));
	const leafOpen = $derived(open !== undefined);
	const address = (changes: Record<string, string | null>) => {
		const query = new URLSearchParams();
		const all = {
			order: data.query.order === 'wait' ? null : data.query.order,
			search: data.query.search,
			mine: data.query.mine ? '1' : null,
			ended: data.query.ended ? '1' : null,
			...changes
		};
		for (const [k, v] of Object.entries(all)) if (v) query.set(k, v);
		return `?${query}`;
	};
	const list = $derived(page.url.search.includes('after') ? address({ after: data.query.after }) : address({}));
	const ORDERS = { wait: 'longest wait first', name: 'by name', life: 'silent longest first', chase: 'chased soonest first' } as const;
	const STATES: Partial<Record<string, string>> = { locked: 'locked', ended: 'former' };
	function waitWords(wait: Wait): string {
		switch (wait.kind) {
			case 'late':
				return `${wait.days} ${wait.days === 1 ? 'day' : 'days'} late`;
			case 'due':
				return `due ${dateWords('en', wait.on)}`;
			case 'to_look_at':
				return 'to look at';
			case 'no_due_date':
				return 'no date';
			case 'all_in':
				return 'all in';
			case 'nothing_asked':
				return 'nothing asked';
		}
	}
</script>

{#snippet sorted(order: keyof typeof ORDERS, words: string, kind = '')}
	<th scope="col" class={kind} aria-sort={data.query.order === order ? (order === 'life' ? 'descending' : 'ascending') : undefined}
		><a class="sort" href={address({ order: order === 'wait' ? null : order, after: null })} data-sveltekit-noscroll title={ORDERS[order]}>{words}</a
		></th
	>
{/snippet}

<svelte:head><title>Clients · {data.firm.name}</title></svelte:head>

{#if whole}{@render children()}{:else}
	<Sheet {leafOpen} closeHref="/desk/clients{list}" recordLeaf margin={leafOpen ? 108 : 136}>
		{#snippet sheet()}
			<div class="masthead flex flex-wrap items-center gap-x-4 gap-y-2">
				<h1 class="text-[1.65rem] leading-tight">Clients</h1>
				<p class="text-[0.88rem] text-(--half)">
					{#if data.query.search}Matching “{data.query.search}”.
						<a class="act-link" href={address({ search: null, after: null })}>Show all {data.counts.all}</a>
					{:else if data.query.ended}Former clients.
						<a class="act-link" href={address({ ended: null, after: null })}>Back to the others</a>
					{:else}{data.counts.all}, {ORDERS[data.query.order]}. {data.counts.needYou}
						{mine('judge_item') ? 'need you' : 'wait for the firm'}.{#if data.counts.noAddress}&nbsp;
							<a class="act-link" href="/desk/rounds/contact-{data.counts.firstWithout}"
								>{data.counts.noAddress} {data.counts.noAddress === '1' ? 'person has' : 'people have'} no address</a
							>{/if}{/if}
				</p>
				<p class="flex gap-4 text-[0.88rem] {leafOpen ? 'lg:hidden' : ''}">
					{#if mine('import_clients')}<a class="act-link" href="/desk/clients/import">Import a list</a>{/if}
					<a class="act-link" href="/desk/clients/asked">Asked</a>
					<a class="act-link" href="/desk/clients/statements">Statements</a>
					<a class="act-link" href="/desk/clients/papers">Papers</a>
					{#if mine('send_request')}<a class="act-link" href="/desk/clients/ask">Ask many</a>{/if}
					{#if mine('invite')}<a class="act-link" href="/desk/clients/invite">Invite many</a>{/if}
					<a class="act-link" href="/desk/clients/people">People</a>
				</p>
				<div class="ml-auto flex gap-2 {leafOpen ? 'lg:hidden' : ''}">
					<a class="act-quiet" href={address({ mine: data.query.mine ? null : '1', after: null })} aria-current={data.query.mine ? 'true' : undefined}
						>{data.query.mine ? 'Everybody’s' : 'Only mine'}</a
					>
					{#if mine('add_client')}<a class="act" href="/desk/clients/new">New client <span class="key">n</span></a>{/if}
				</div>
			</div>
			{#if data.lines.length === 0}
				<p class="py-8 pl-[160px] text-(--half)">
					{data.query.search
						? 'Nobody matches. Try a part of a name, an address, a phone or a tax number.'
						: data.query.ended
							? 'No former clients yet.'
							: 'No clients yet. Add the first one; it takes a minute.'}
				</p>
			{:else}
				<table class="list w-full" class:narrow={leafOpen}>
					<thead
						><tr
							>{@render sorted('wait', 'longest wait', 'text-right')}{@render sorted('name', 'client')}<th scope="col" class="wide"
								>looked after by</th
							>{#if !leafOpen}<th scope="col">asked for, in due order</th>{/if}{@render sorted('life', 'last sign of life', 'wide')}{@render sorted(
								'chase',
								'next chase',
								'wide'
							)}</tr
						></thead
					>
					<tbody>
						{#each data.lines as line (line.id)}
							<tr class={line.state === 'active' ? line.light : 'waiting'} aria-current={open === line.id ? 'true' : undefined}>
								<td class="wait">{STATES[line.state] ?? waitWords(line.wait)}</td>
								<td class="name"
									><a data-row data-sveltekit-noscroll href="/desk/clients/{line.id}{list}" aria-current={open === line.id ? 'true' : undefined}
										>{line.name}</a
									>{#if leafOpen}<span class="under"><TickStrip runs={line.ticks} /></span>{/if}</td
								>
								<td class="wide text-(--half)">{line.responsible.split(' ')[0]}</td>
								{#if !leafOpen}<td><TickStrip runs={line.ticks} /></td>{/if}
								<td class="wide text-(--half)">{line.lastSign ?? '–'}</td>
								<td class="wide text-(--half)">{line.nextChase ?? '–'}</td>
							</tr>
						{/each}
					</tbody>
				</table>
				{#if !data.query.ended && !data.query.search}<p class="p-4 pl-[160px] text-sm">
						<a class="act-link" href={address({ ended: '1', after: null })}>Former clients</a>
					</p>{/if}
				{#if data.next}<p class="p-4 pl-[160px]">
						<a class="act-quiet" href={address({ after: data.next })}>The next {data.lines.length}</a>
					</p>{/if}
			{/if}
			<p
				class="legend sticky bottom-0 flex flex-wrap gap-x-5 gap-y-1 border-t border-(--rule-strong) bg-(--sheet) py-2 pl-[154px] text-xs text-(--half)"
			>
				{#each [['asked', 'asked'], ['started', 'started'], ['late', 'late'], ['handed_in', 'handed in'], ['sent_back', 'sent back'], ['settled', 'settled']] as const as [tick, words] (tick)}<span
						class="inline-flex items-center gap-1.5"><TickMark {tick} /> {words}</span
					>{/each}
			</p>
		{/snippet}
		{@render children()}
	</Sheet>
{/if}

<style>
	.list {
		border-collapse: collapse;
		font-size: 0.89rem;
	}
	th {
		text-align: left;
		font-weight: 400;
		font-size: 0.8rem;
		color: var(--half);
		padding: 4px 10px;
		border-bottom: 1px solid var(--rule-strong);
	}
	.sort {
		text-decoration: none;
	}
	.sort:hover {
		text-decoration: underline;
	}
	th[aria-sort] .sort {
		color: var(--ink);
		font-weight: 700;
		border-bottom: 2px solid var(--lamp-edge);
	}
	th.text-right,
	.wait {
		width: 136px;
		padding-right: 8px;
		text-align: right;
	}
	td {
		height: 33px;
		padding: 0 10px;
		box-sizing: border-box;
		border-bottom: 1px solid var(--rule);
		white-space: nowrap;
	}
	.name {
		padding-left: 22px;
		max-width: 18rem;
		overflow: hidden;
		text-overflow: ellipsis;
	}
	th:nth-child(2) {
		padding-left: 22px;
	}
	.name a {
		font-weight: 700;
		text-decoration: none;
		display: block;
		line-height: 32px;
		overflow: hidden;
		text-overflow: ellipsis;
	}
	tr {
		position: relative;
	}
	tbody tr:hover {
		background: var(--lamp-soft);
	}
	tr[aria-current='true'] {
		background: linear-gradient(90deg, transparent 136px, var(--lamp-light) 136px, var(--lamp-soft));
	}
	.wait {
		color: var(--half);
		font-size: 0.85rem;
	}
	.needs_you .wait {
		background: linear-gradient(90deg, color-mix(in srgb, var(--lamp-light) 80%, var(--lamp-edge)), var(--lamp-soft));
		color: var(--lamp-deep);
		font-weight: 700;
	}
	.soon .wait {
		background: linear-gradient(90deg, var(--lamp-soft), transparent);
		color: var(--ink);
	}
	@media (min-width: 1024px) {
		.narrow .wide {
			display: none;
		}
		.narrow {
			table-layout: fixed;
		}
		.narrow thead {
			display: none;
		}
		.narrow .wait {
			width: 108px;
			padding-left: 2px;
			font-size: 0.79rem;
		}
		.narrow .name {
			padding-left: 16px;
			padding-top: 3px;
			padding-bottom: 5px;
		}
		.narrow .name a {
			line-height: 26px;
		}
		.narrow tr[aria-current='true'] {
			background: linear-gradient(90deg, transparent 108px, var(--lamp-light) 108px, var(--lamp-soft));
		}
		.under {
			display: block;
			overflow: hidden;
			line-height: 1;
		}
	}
	@media (max-width: 800px) {
		.wide {
			display: none;
		}
		.name {
			max-width: 11rem;
		}
	}
</style>
