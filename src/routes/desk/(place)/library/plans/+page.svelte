<script lang="ts">
	import { planUseInWords } from '$lib/ui/library/plan-words';
	import LibraryShelves from '$lib/ui/library/LibraryShelves.svelte';

	let { data } = $props();
</script>

<svelte:head><title>Chase plans · {data.firm.name}</title></svelte:head>

<main id="sheet" class="sheet shelf" tabindex="-1">
	<div class="masthead">
		<div class="flex flex-wrap items-baseline gap-x-4 gap-y-2">
			<h1 class="text-[1.65rem] leading-tight">Library</h1>
			<p class="text-[0.88rem] text-(--half)">
				When people are reminded, how, and what follows. Chosen for a list, a service, a person, a client, a request or a single thing.
			</p>
			{#if data.maySetUp}<a class="act ml-auto" href="/desk/library/plans/new">New plan</a>{/if}
		</div>
		<LibraryShelves at="plans" />
	</div>
	<h2 class="section-head">Chase plans</h2>
	<ul>
		{#each data.plans as plan (plan.key)}<li>
				<a class="ledger-row kind-row" href="/desk/library/plans/{plan.key}" data-row>
					<span class="kind">{plan.key === 'usual' ? 'the usual plan' : ''}</span>
					<span class="min-w-0 truncate"><b>{plan.name}</b> <span class="text-(--half)">{plan.words}</span></span>
					<span class="aside">{planUseInWords(plan.use)}</span>
				</a>
			</li>{/each}
		<li class="ledger-row kind-row ready">
			<span class="kind"></span>
			<span class="min-w-0 truncate"><b>No reminders</b> <span class="text-(--half)">can always be chosen; nobody is reminded by it</span></span>
			<span class="aside">{data.withoutReminders > 0 ? `${data.withoutReminders} open` : ''}</span>
		</li>
	</ul>
	<p class="py-4 pl-[136px] text-sm text-(--half) max-sm:pl-4">
		Whatever the plans add up to, one person gets at most {data.pace.perWeek === 1 ? 'one reminder' : `${data.pace.perWeek} reminders`} a week, all businesses
		together, and nothing where nothing is open.
		{#if data.maySetUp}<a class="act-link" href="/desk/firm">Change that at Firm</a>{/if}
	</p>
</main>
