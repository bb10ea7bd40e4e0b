<script lang="ts">
	import { untrack } from 'svelte';
	import { DESTROYED_AFTER_DAYS, KEEP_YEARS, keepWords } from '$lib/core/papers/retention';
	import { choosing } from '$lib/ui/desk/choosing.svelte';
	import { enhancedForm } from '$lib/ui/forms/enhanced-form';
	import { dateWords, sizeWords } from '$lib/words/dates';

	let { data } = $props();
	const chosen = choosing(untrack(() => `retention ${data.firm.name}`));
	const mayGo = $derived(data.over.filter(({ heldBack }) => !heldBack));
	const picked = $derived(mayGo.filter(({ id }) => chosen.has(id)));
	const all = $derived(mayGo.length > 0 && picked.length === mayGo.length);
	let problem = $state('');
	let said = $state('');
	let pending = $state(false);
	/** what destroys asks once more */
	let sure = $state(false);
	const handling = {
		onPending: (begins: boolean) => (pending = begins),
		onProblem: (what: { message: string }) => {
			problem = what.message;
			said = '';
		},
		onSuccess: (answer: Record<string, unknown> | undefined) => {
			problem = '';
			said = String(answer?.said ?? '');
			sure = false;
		}
	};
	const counted = (n: number) => (n === 1 ? 'one paper' : `${n} papers`);
	const day = (date: string) => dateWords('en', date, 'withYear');
</script>

<svelte:head><title>How long papers are kept · {data.firm.name}</title></svelte:head>

{#snippet paperCells(paper: { name: string; clientId: string; id: string; clientName: string; folder: string | null; came: string; bytes: number })}
	<a class="act-link font-semibold wrap-anywhere" href="/desk/clients/{paper.clientId}/papers/{paper.id}">{paper.name}</a>
	<span>{paper.clientName}</span>
	<span class="text-[0.88rem] text-(--half)">{paper.folder ? `${paper.folder}, ` : ''}came {paper.came}, {sizeWords('en', paper.bytes)}</span>
{/snippet}

<main id="sheet" class="sheet choosing" tabindex="-1">
	<div class="masthead">
		<p class="text-sm"><a class="act-link" href="/desk/firm">Firm</a></p>
		<h1 class="text-[1.65rem] leading-tight">How long papers are kept</h1>
		<p class="max-w-[44rem] text-[0.88rem] text-(--half)">
			A folder says how long its papers are kept: in the Library for clients to come, and at each client. All other papers are kept as you choose
			here. Nothing is destroyed by itself: you say it, and {DESTROYED_AFTER_DAYS} days later it is done. Backups made before then still hold it.
		</p>
		<form method="post" action="?/keep" class="mt-3 flex flex-wrap items-end gap-3" {@attach enhancedForm(handling)}>
			<label class="field"
				><span>All other papers are</span><select name="keepYears" value={data.keepYears === null ? '' : String(data.keepYears)}
					><option value="">{keepWords(null)}</option>{#each KEEP_YEARS as years (years)}<option value={String(years)}>{keepWords(years)}</option
						>{/each}</select
				></label
			>
			<button class="act-quiet" disabled={pending}>Save</button>
		</form>
		{#if problem}<p class="notice-wrong mt-2" role="alert">{problem}</p>{/if}
		{#if said}<p class="notice-lamp mt-2" role="status">{said}</p>{/if}
	</div>
	<section class="part">
		<h2 class="text-[1.15rem]">Their time is over</h2>
		{#if data.over.length === 0}<p class="text-[0.9rem] text-(--half)">No papers have been kept for as long as they have to be.</p>{/if}
		{#if mayGo.length > 1}<label class="mt-1 block text-sm"
				><input type="checkbox" checked={all} onchange={() => (all ? chosen.clear() : chosen.set(mayGo.map(({ id }) => id)))} />
				Choose all {mayGo.length}</label
			>{/if}
		<ul>
			{#each data.over as paper (paper.id)}
				<li class="line" class:lit={chosen.has(paper.id) && !paper.heldBack}>
					{#if !paper.heldBack}<input
							type="checkbox"
							checked={chosen.has(paper.id)}
							onclick={(event) => chosen.toggle(event, paper.id, mayGo)}
							aria-label="Choose {paper.name}"
						/>{/if}
					{@render paperCells(paper)}
					<span class="ml-auto text-[0.88rem]"
						>{paper.heldBack ? 'everything of this client is kept' : `had to be kept until ${day(paper.keptUntil!)}`}</span
					>
				</li>
			{/each}
		</ul>
	</section>
	{#if data.going.length > 0}<section class="part">
			<h2 class="text-[1.15rem]">Going</h2>
			<ul>
				{#each data.going as paper (paper.id)}<li class="line">
						{@render paperCells(paper)}
						<span class="ml-auto text-[0.88rem] text-(--lamp-deep)"
							>{paper.heldBack ? 'stays while everything of this client is kept' : `destroyed on ${day(paper.destroyOn!)}`}</span
						>
						<form method="post" action="?/stop" {@attach enhancedForm(handling)}>
							<input type="hidden" name="paperId" value={paper.id} />
							<button class="act-link text-sm" disabled={pending} aria-label="Do not destroy {paper.name}">Do not destroy it</button>
						</form>
					</li>{/each}
			</ul>
		</section>{/if}
	{#if data.holds.length > 0}<section class="part">
			<h2 class="text-[1.15rem]">Of whom everything is kept</h2>
			<ul>
				{#each data.holds as hold (hold.id)}<li class="line">
						<a class="act-link font-semibold" href="/desk/clients/{hold.clientId}/papers/folders">{hold.clientName}</a>
						<span>“{hold.reason}”</span>
						<span class="text-[0.88rem] text-(--half)">{hold.by}, {hold.since}</span>
						<form method="post" action="?/endHold" class="ml-auto" {@attach enhancedForm(handling)}>
							<input type="hidden" name="holdId" value={hold.id} />
							<button class="act-link text-sm" disabled={pending} aria-label="End keeping everything of {hold.clientName}">End it</button>
						</form>
					</li>{/each}
			</ul>
		</section>{/if}
	<section class="part">
		<div class="flex items-baseline gap-4">
			<h2 class="text-[1.15rem]">Destroyed</h2>
			{#if data.destroyed.length > 0}<a class="act-link text-sm" href="/desk/firm/retention/record" download>Download the whole record</a>{/if}
		</div>
		{#if data.destroyed.length === 0}<p class="text-[0.9rem] text-(--half)">Nothing has been destroyed.</p>{/if}
		<ul>
			{#each data.destroyed as paper (paper.id)}<li class="line">
					<b class="wrap-anywhere">{paper.name}</b>
					<span>{paper.clientName}</span>
					<span class="text-[0.88rem] text-(--half)">came {paper.came}, {sizeWords('en', paper.bytes)}, {paper.sha256.slice(0, 12)}…</span>
					<span class="ml-auto text-[0.88rem]">{paper.gone}, {paper.by.split(' ')[0]}</span>
				</li>{/each}
		</ul>
	</section>
	{#if data.over.length > 0}<form method="post" action="?/destroy" class="bar" class:resting={picked.length === 0} {@attach enhancedForm(handling)}>
			{#each picked as paper (paper.id)}<input type="hidden" name="paper" value={paper.id} />{/each}
			{#if picked.length === 0}<span class="text-(--half)">Choose papers whose time is over.</span>
			{:else if sure}<span
					>The client does not see {picked.length === 1 ? 'it' : 'them'} any more, and in {DESTROYED_AFTER_DAYS} days nobody does.</span
				>
				<button class="act" disabled={pending}>Destroy {counted(picked.length)}</button>
				<button type="button" class="act-link" onclick={() => (sure = false)}>Leave it</button>
			{:else}<b>{counted(picked.length).replace(/^o/, 'O')}</b>
				<button type="button" class="act-quiet" onclick={() => (sure = true)}>Destroy …</button>
				<button type="button" class="act-link ml-auto" onclick={() => chosen.clear()}>Choose none</button>{/if}
		</form>{/if}
</main>

<style>
	.part {
		padding: 14px 16px 4px 104px;
	}
	.line {
		display: flex;
		flex-wrap: wrap;
		align-items: baseline;
		gap: 0 14px;
		padding: 6px 0;
		border-bottom: 1px solid var(--rule);
	}
	@media (max-width: 800px) {
		.part {
			padding-left: 16px;
		}
	}
</style>
