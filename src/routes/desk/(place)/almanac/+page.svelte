<script lang="ts">
	import { dateWords } from '$lib/words/dates';

	let { data } = $props();
	type Appears = (typeof data.appears)[number];
	const days = $derived(
		[...new Set([...data.chases, ...data.appears].map((c) => c.day))]
			.sort()
			.map((day) => ({ day, rows: data.chases.filter((c) => c.day === day), appears: data.appears.filter((c) => c.day === day) }))
	);
	const by = (ways: readonly string[]) => (!ways.includes('text') ? '' : ways.includes('email') ? ', text too' : ', by text');
	const reason = (why: string) =>
		why
			.replace(/^because (it is )?/, '')
			.replace(/^held back, because /, '')
			.split('; ')[0];
</script>

{#snippet appearing(c: Appears)}
	<li class="row" class:held={c.heldBack}>
		<span>{c.heldBack ? '–' : c.together ? '' : c.time}</span>
		<b class="truncate" class:along={c.together}>{c.contactName}</b>
		<span class="truncate text-(--half)"
			><a href="/desk/clients/{c.clientId}" class="underline decoration-dotted underline-offset-2">{c.clientName}</a></span
		>
		<span class="text-(--half)">{c.lines} {c.lines === 1 ? 'line' : 'lines'}, {c.quiet ? 'quietly' : 'new'}</span>
		<span class="truncate text-(--half)" title={c.title}
			>{#if c.heldBack}<b class="text-(--lamp-deep)">does not appear: {c.heldBack}</b>{:else}{c.together
					? 'told in the same message: '
					: 'appears by itself: '}
				<a href="/desk/clients/{c.clientId}/standing/{c.recurringId}" class="underline decoration-dotted underline-offset-2">{c.title}</a>{/if}</span
		>
	</li>
{/snippet}
<!-- what else is in the message above -->
{#snippet toldAlong(appears: Appears[], contactId: string | null)}
	{#each appears.filter((c) => c.together && c.contactId === contactId) as c (c.key)}{@render appearing(c)}{/each}
{/snippet}

<svelte:head><title>Almanac · {data.firm.name}</title></svelte:head>
<main id="sheet" class="sheet" tabindex="-1">
	<div class="flex flex-wrap items-baseline gap-x-4 px-4 pt-5 pb-3 md:pl-[154px]">
		<h1 class="text-[1.65rem] leading-tight">Almanac</h1>
		<p class="text-[0.88rem] text-(--half)">
			What goes out if nobody does anything. {data.total}
			{data.total === 1 ? 'message' : 'messages'} in the next four weeks{data.appears.length > 0
				? `; ${data.appears.length} standing ${data.appears.length === 1 ? 'request appears' : 'requests appear'}`
				: ''}.
		</p>
		<a class="act-link ml-auto" href="/desk/almanac/works">Which reminders work</a>
	</div>
	{#if days.length === 0}<p class="py-6 text-(--half) md:pl-[154px]">Nothing will go out: nobody has anything open that is due.</p>{/if}
	{#if data.held.length > 0}
		<section class="day" aria-label="Held back">
			<h2 class="date"><span class="text-(--lamp)">held</span></h2>
			<ul class="min-w-0">
				{#each data.held as c (c.key)}<li class="row held">
						<span>–</span>
						<b class="truncate">{c.name}</b>
						<span class="truncate text-(--half)"
							>{#each c.clients as client, i (client.id)}{i > 0 ? ', ' : ''}<a
									href="/desk/clients/{client.id}"
									class="underline decoration-dotted underline-offset-2">{client.name}</a
								>{/each}</span
						>
						<span class="text-(--half)">{c.things} {c.things === 1 ? 'thing' : 'things'}</span>
						<span class="truncate text-(--half)" title="since {c.since}, as {c.as}; goes on {c.goes}"
							><b class="text-(--lamp-deep)">goes on {c.goes}</b>, held since {c.since}, as {c.as}</span
						>
					</li>{/each}
			</ul>
		</section>
	{/if}
	{#each days as { day, rows, appears } (day)}
		<section class="day" aria-label={dateWords('en', day, 'long')}>
			<h2 class="date">
				<span class={day === data.today ? 'text-(--lamp)' : ''}>{dateWords('en', day).split(' ')[0]}</span>
				<span class="font-sans text-sm font-normal">{dateWords('en', day, 'short')}</span>{#if day === data.today}<span
						class="block font-sans text-xs font-normal text-(--half)">today</span
					>{/if}
			</h2>
			<ul class="min-w-0">
				{#each appears.filter((c) => !c.together) as c (c.key)}
					{@render appearing(c)}
					{@render toldAlong(appears, c.contactId)}
				{/each}
				{#each rows as c (c.key)}
					<li class="row" class:held={c.heldBack || c.leftOut}>
						<span>{c.heldBack || c.leftOut ? '–' : c.time}</span>
						<b class="truncate"
							>{#if c.open}<a href="/desk/almanac/{c.contactId}?day={c.day}" class="underline decoration-dotted underline-offset-2">{c.name}</a
								>{:else}{c.name}{/if}</b
						>
						<span class="truncate text-(--half)"
							>{#each c.clients as client, i (client.id)}{i > 0 ? ', ' : ''}<a
									href="/desk/clients/{client.id}"
									class="underline decoration-dotted underline-offset-2">{client.name}</a
								>{/each}</span
						>
						<span class="text-(--half)">{c.things}{by(c.by)}{c.asks}</span>
						<span class="truncate text-(--half)" title={c.why}
							>{#if c.heldBack}<b class="text-(--lamp-deep)">held back: {reason(c.why)}</b>{:else if c.leftOut}<b class="text-(--lamp-deep)"
									>left out</b
								>, {reason(c.why)}{:else}{#if c.changed}<b class="text-(--lamp-deep)">own words</b>,
								{/if}{reason(c.why)}{/if}</span
						>
					</li>
					{#if !c.heldBack && !c.leftOut}{@render toldAlong(appears, c.contactId)}{/if}
				{/each}
			</ul>
		</section>
	{/each}
</main>

<style>
	.sheet {
		background: linear-gradient(90deg, transparent 136px, var(--margin-line) 136px, var(--margin-line) 137px, transparent 137px) var(--sheet);
		min-height: calc(100dvh - 47px);
		outline: none;
	}
	.day {
		display: grid;
		grid-template-columns: 137px minmax(0, 1fr);
		border-top: 1px solid var(--rule-strong);
	}
	.date {
		padding: 6px 12px 4px 0;
		text-align: right;
		font-size: 1rem;
	}
	.row {
		display: grid;
		grid-template-columns: 3.2rem 10rem minmax(0, 1.1fr) 8rem minmax(0, 1.3fr);
		gap: 0.6rem;
		align-items: center;
		min-height: 33px;
		padding: 0 18px 0 17px;
		font-size: 0.87rem;
		border-bottom: 1px solid var(--rule);
	}
	.row:last-child {
		border-bottom: 0;
	}
	.along {
		font-weight: normal;
		color: var(--half);
	}
	.held {
		background: linear-gradient(90deg, var(--lamp-light), var(--lamp-soft));
	}
	@media (max-width: 800px) {
		.sheet {
			background: var(--sheet);
		}
		.day {
			display: block;
		}
		.date {
			text-align: left;
			padding: 10px 16px 2px;
		}
		.row {
			grid-template-columns: 3.2rem 1fr;
			padding: 6px 16px;
		}
		.row > :nth-child(n + 3) {
			grid-column: 2;
			white-space: normal;
		}
	}
</style>
