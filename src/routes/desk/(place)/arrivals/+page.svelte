<script lang="ts">
	import { accountName } from '$lib/core/statements/accounts';
	import { dateWords, sizeWords } from '$lib/words/dates';
	import { enhancedForm } from '$lib/ui/forms/enhanced-form';

	let { data } = $props();
	let problem = $state('');
	let pending = $state(false);
	const NUMBERS = ['No', 'One', 'Two', 'Three', 'Four', 'Five', 'Six', 'Seven', 'Eight', 'Nine', 'Ten', 'Eleven', 'Twelve'];
	const count = $derived(data.waiting.length);
	const title = $derived(`${NUMBERS[count] ?? count} ${count === 1 ? 'file has' : 'files have'} no place yet.`);
	const handling = {
		onPending: (begins: boolean) => (pending = begins),
		onProblem: (what: { message: string }) => (problem = what.message),
		onSuccess: () => {
			problem = '';
		}
	};
</script>

<svelte:head><title>Arrivals · {data.firm.name}</title></svelte:head>
<main id="sheet" class="sheet" tabindex="-1">
	<header class="px-4 pt-5 pb-3 md:pl-[104px]">
		<h1 class="text-[1.65rem] leading-tight">{title}</h1>
		<p class="text-[0.88rem] text-(--half)">What clients send without being asked waits here and in Rounds until somebody says where it belongs.</p>
	</header>
	{#if problem}<p class="notice-wrong mx-4 mb-3 md:ml-[104px]" role="alert">{problem}</p>{/if}
	<ul>
		{#each data.waiting as one (one.id)}<li>
				<a class="row" href="/desk/rounds/arrival-{one.id}" data-row>
					<span class="came">{one.came}</span>
					<span class="min-w-0"><b class="block truncate">{one.name}</b><span class="text-[0.8rem] text-(--half)">{one.clientName}</span></span>
					<span class="min-w-0"
						>{#if one.held}<span class="block truncate">waits to be let in: look at who sent it</span>{:else if one.seems}<span class="block truncate"
								>seems to be “{one.seems}”</span
							>{:else if one.statement}<span class="block truncate"
								>a statement of {accountName(one.statement.account!)}, to {dateWords('en', one.statement.to!, 'withYear')}</span
							>{:else if !one.note}<span class="text-(--half)">nothing says where it belongs</span>{/if}{#if one.note}<span
								class="block truncate text-(--half)">“{one.note}”</span
							>{/if}</span
					>
					<span class="text-right text-[0.84rem] wrap-anywhere text-(--half)"
						>{one.sender ? `from ${one.sender}${one.byMail && !one.held ? ', by mail' : ''}` : 'by mail'} · {sizeWords('en', one.bytes)}</span
					>
				</a>
			</li>{/each}
	</ul>
	{#if data.itself.rules.length > 0}
		<section class="px-4 pt-7 md:pl-[104px]">
			<h2 class="text-[1.15rem]">What finds its place by itself</h2>
			<p class="text-[0.88rem] text-(--half)">
				{data.itself.filed} of the {data.itself.dealt} that came in the last ninety days. It takes two signs that agree, and something that is asked; else
				it waits here.
			</p>
			<ul class="mt-1">
				{#each data.itself.rules as rule (rule.id)}<li
						class="flex flex-wrap items-baseline gap-x-3 border-b border-(--rule) py-1.5 pr-[18px] text-[0.9rem]"
					>
						<b>{accountName(rule)}</b>
						<a class="text-(--half) underline decoration-dotted" href="/desk/clients/{rule.clientId}/statements">{rule.clientName}</a>
						<span class="text-(--half)"
							>{rule.filed} filed{rule.takenBack > 0 ? `, ${rule.takenBack} taken back` : ''}; allowed by {rule.madeBy.split(' ')[0]}</span
						>
						{#if data.mayFile}<form method="post" action="/desk/arrivals?/endRule" class="ml-auto" {@attach enhancedForm(handling)}>
								<input type="hidden" name="ruleId" value={rule.id} />
								<button class="act-link text-sm" disabled={pending} aria-label="Switch off: {accountName(rule)} of {rule.clientName}"
									>Switch off</button
								>
							</form>{/if}
					</li>{/each}
			</ul>
		</section>
	{/if}
	{#if data.dealt.length > 0}
		<h2 class="px-4 pt-7 pb-1 text-[1.15rem] md:pl-[104px]">Filed lately</h2>
		<ul>
			{#each data.dealt as one (one.id)}<li class="row">
					<span class="came">{one.came}</span>
					<span class="min-w-0"
						><a class="act-link block truncate" href="/desk/papers/{one.id}" target="_blank" rel="noopener">{one.name}</a><span
							class="text-[0.8rem] text-(--half)">{one.clientName}</span
						></span
					>
					<span class="truncate">
						{#if one.itemId}under <a class="underline decoration-dotted" href="/desk/clients/{one.clientId}/item/{one.itemId}">{one.filedUnder}</a
							>{:else}<span class="text-(--half)"
								>{one.kept
									? 'kept among their papers'
									: one.madeInto === null
										? 'needs no place'
										: `its pages are in ${one.madeInto === 1 ? 'another file' : `${one.madeInto} files`}`}</span
							>{/if}{#if one.by}<span class="text-(--half)">, {one.by.split(' ')[0]}</span>{/if}
					</span>
					<span class="text-right">
						{#if data.mayFile && (one.itemId === null || one.state !== 'accepted')}<form
								method="post"
								action="/desk/arrivals/{one.id}?/takeBack"
								{@attach enhancedForm(handling)}
							>
								<button class="act-link text-sm" disabled={pending} aria-label="Take {one.name} out of its place">Take it back</button>
							</form>{/if}
					</span>
				</li>{/each}
		</ul>
	{/if}
</main>

<style>
	.sheet {
		min-height: calc(100dvh - 47px);
		background: linear-gradient(90deg, transparent 86px, var(--margin-line) 86px, var(--margin-line) 87px, transparent 87px) var(--sheet);
	}
	.row {
		display: grid;
		grid-template-columns: 86px minmax(0, 1.1fr) minmax(0, 1.3fr) minmax(0, 1fr);
		align-items: center;
		gap: 18px;
		min-height: 46px;
		padding-right: 18px;
		border-bottom: 1px solid var(--rule);
		font-size: 0.9rem;
	}
	a.row:hover,
	a.row:focus-visible {
		background: linear-gradient(90deg, transparent 87px, var(--lamp-soft) 87px);
	}
	.came {
		padding: 0 8px;
		font-size: 0.78rem;
		color: var(--half);
		text-align: right;
	}
	@media (max-width: 640px) {
		.sheet {
			background: var(--sheet);
		}
		.row {
			grid-template-columns: minmax(0, 1fr);
			gap: 2px;
			padding: 8px 16px;
		}
		.came,
		.row > :last-child {
			padding-left: 0;
			text-align: left;
		}
	}
</style>
