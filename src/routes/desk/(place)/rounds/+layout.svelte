<script lang="ts">
	import { untrack } from 'svelte';
	import { page } from '$app/state';
	import { holdOrder } from '$lib/core/rounds/hold-order';
	import { isTheirs, ROUNDS_SECTIONS } from '$lib/core/rounds/sections';
	import { enhancedForm } from '$lib/ui/forms/enhanced-form';
	import Sheet from '$lib/ui/desk/Sheet.svelte';
	import { setRowsInOrder } from '$lib/ui/rounds/rows-in-order';
	import TickMark from '$lib/ui/ticks/TickMark.svelte';

	let { data, children } = $props();
	const open = $derived(page.params.key);
	// the order begins anew when Rounds is opened anew
	let held: string[] = [];
	const rows = $derived.by(() => {
		const inOrder = holdOrder(data.rows, held);
		held = inOrder.map(({ key }) => key);
		return inOrder;
	});
	setRowsInOrder(() => rows);
	const greeting = $derived(data.hour < 12 ? 'Good morning' : data.hour < 18 ? 'Good afternoon' : 'Good evening');
	const NUMBERS = [
		'Nothing needs',
		'One thing needs',
		'Two things need',
		'Three things need',
		'Four things need',
		'Five things need',
		'Six things need',
		'Seven things need',
		'Eight things need',
		'Nine things need',
		'Ten things need',
		'Eleven things need',
		'Twelve things need'
	];
	const count = $derived(data.roundsCount);
	const news = $derived(rows.filter((r) => r.isNew).length);
	const sections = $derived(
		ROUNDS_SECTIONS.map((s) => ({ ...s, rows: rows.filter((r) => r.section === s.section) })).filter((s) => s.rows.length > 0)
	);
	/** what one may deal with, and what waits for others: that is folded away */
	const theirs = $derived(sections.filter((s) => isTheirs(data.person.role, s.section)));
	const ofOthers = $derived(sections.filter((s) => !isTheirs(data.person.role, s.section)));
	const waiting = $derived(ofOthers.reduce((sum, { section }) => sum + data.rounds[section], 0));
	/** the row that is open stands among what others deal with */
	const openAmongOthers = $derived(ofOthers.some((s) => s.rows.some((row) => row.key === open)));
	/** what waits for others is seen: it stays as somebody leaves it, whatever comes meanwhile */
	let othersSeen = $state(untrack(() => openAmongOthers));
	$effect(() => {
		if (openAmongOthers) othersSeen = true;
	});
</script>

<svelte:head><title>Rounds · {data.firm.name}</title></svelte:head>

{#snippet list(section: (typeof sections)[number])}
	<section aria-labelledby="s-{section.section}">
		<h2 id="s-{section.section}" class="section-head">
			{section.title}
			<span class="ml-1 font-sans text-xs font-normal text-(--half)">{data.rounds[section.section]}</span>
			{#if section.section === 'to_countersign' && data.rounds.to_countersign > 1 && isTheirs(data.person.role, section.section)}<a
					class="act-link ml-3 font-sans text-sm font-normal"
					href="/desk/countersign">sign several</a
				>{/if}
		</h2>
		<ul>
			{#each section.rows as row, i (row.key)}
				<!-- the client's name stands once over what came in of them -->
				{@const goesOn = row.clientId !== null && row.clientId === section.rows[i - 1]?.clientId}
				<li class:goes-on={goesOn}>
					<a
						class="ledger-row row"
						href="/desk/rounds/{row.key}"
						data-row
						data-sveltekit-noscroll
						aria-current={open === row.key ? 'true' : undefined}
					>
						<span class="margin-cell"
							><span>{row.age}</span><span class="sign" aria-hidden="true"
								>{#if section.section === 'handed_in'}<TickMark
										tick="handed_in"
										size={13}
									/>{:else if section.section === 'texts' || section.section === 'talk'}<span class="said">“</span>{/if}</span
							></span
						>
						<span class="min-w-0 truncate"
							>{#if row.isNew}<span class="new-dot"></span><span class="sr">new: </span>{/if}<b class:sr={goesOn}>{row.clientName}</b>
							<span class:words={goesOn} class="text-(--half)">{row.words}</span></span
						>
						<span class="aside">{row.aside}</span>
					</a>
				</li>
			{/each}
		</ul>
		{#if data.rounds[section.section] > section.rows.length}<p class="py-2 pl-[104px] text-[0.83rem] text-(--half)">
				The {section.rows.length} oldest of {data.rounds[section.section]}; the others follow as these are dealt with.
			</p>{/if}
	</section>
{/snippet}

<Sheet leafOpen={open !== undefined} closeHref="/desk/rounds" alwaysLeaf>
	{#snippet sheet()}
		<div class="masthead flex flex-wrap items-start gap-x-4">
			<div class="min-w-0 flex-1">
				<h1 class="text-[1.65rem] leading-tight">{greeting}, {data.person.name.split(' ')[0]}. {NUMBERS[count] ?? `${count} things need`} you.</h1>
				<p class="mt-1 text-[0.9rem] text-(--half)">
					{#if count === 0 && waiting > 0}Your role looks and downloads; what waits here is for others to deal with.
					{:else if count === 0}Everything is dealt with. What comes in will appear here by itself.
					{:else if data.lastLooked}{news === 0 ? 'Nothing new' : news === 1 ? 'One came in' : `${news} came in`} since {data.lastLooked}.{/if}
					{#if data.onlyMine}Only of the clients you look after.{/if}
				</p>
			</div>
			<form method="post" action="/desk/rounds?/show" {@attach enhancedForm()}>
				<button class="act-quiet" name="only" value={data.onlyMine ? 'all' : 'mine'}>{data.onlyMine ? 'Everybody’s' : 'Only mine'}</button>
			</form>
		</div>
		{#each theirs as section (section.section)}{@render list(section)}{/each}
		{#if waiting > 0}
			<details class="others" bind:open={othersSeen}>
				<summary>{waiting === 1 ? 'One thing waits' : `${waiting} things wait`} for others to deal with</summary>
				{#each ofOthers as section (section.section)}{@render list(section)}{/each}
			</details>
		{/if}
	{/snippet}
	{@render children()}
</Sheet>

<style>
	.others summary {
		padding: 14px 18px 8px 104px;
		font-size: 0.88rem;
		color: var(--half);
		cursor: pointer;
	}
	/* what somebody said */
	.said {
		font-family: var(--font-serif, serif);
		font-size: 1.5rem;
		line-height: 0.6;
		display: inline-block;
		translate: 0 0.28em;
	}
	.row {
		grid-template-columns: 86px minmax(0, 1fr) auto;
		min-height: 34px;
		font-size: 0.89rem;
	}
	.margin-cell {
		display: flex;
		justify-content: flex-end;
		align-items: center;
		gap: 0.7rem;
		padding-right: 12px;
		font-size: 0.78rem;
		color: var(--half);
	}
	.sign {
		display: grid;
		place-items: center;
		width: 14px;
	}
	/* a rule parts clients, not what one client sent */
	li:has(+ .goes-on) .row {
		border-bottom-color: transparent;
	}
	.goes-on .words {
		padding-left: 18px;
	}
	/* the mark of what is new has its own width */
	.goes-on .new-dot ~ .words {
		padding-left: 6px;
	}
	.aside {
		padding: 0 18px 0 14px;
		font-size: 0.83rem;
		color: var(--half);
		white-space: nowrap;
	}
	@media (max-width: 640px) {
		.row {
			grid-template-columns: 62px minmax(0, 1fr);
			padding: 0.5rem 0;
		}
		.row > :nth-child(2) {
			white-space: normal;
		}
		.aside {
			grid-column: 2;
			padding-left: 18px;
			white-space: normal;
		}
	}
</style>
