<script lang="ts">
	import { ruleWordsSaid } from '$lib/core/arrivals/keeping-rules';
	import { accountName } from '$lib/core/statements/accounts';
	import { dateWords, sizeWords } from '$lib/words/dates';
	import { choosing } from '$lib/ui/desk/choosing.svelte';
	import RenamePanel from '$lib/ui/papers/RenamePanel.svelte';
	import { enhancedForm } from '$lib/ui/forms/enhanced-form';

	let { data } = $props();
	let problem = $state('');
	let pending = $state(false);
	let said = $state('');
	/** what came of naming */
	let named = $state('');
	let naming = $state(false);
	/** what is ticked, to do the same with all of it */
	const chosen = choosing('arrivals');
	const choosable = $derived(data.waiting.filter(({ held }) => !held));
	const picked = $derived(choosable.filter(({ id }) => chosen.has(id)));
	/** the rule whose words are being changed */
	let changing = $state('');
	let tried = $state<{ id: string; filed: number; wrong: number } | null>(null);
	const ruleName = (rule: (typeof data.itself.rules)[number]) =>
		rule.institution === null
			? `${ruleWordsSaid(rule.words)} from ${rule.sender}`
			: accountName({ institution: rule.institution, lastFour: rule.lastFour ?? '' });
	const NUMBERS = ['No', 'One', 'Two', 'Three', 'Four', 'Five', 'Six', 'Seven', 'Eight', 'Nine', 'Ten', 'Eleven', 'Twelve'];
	const count = $derived(data.waiting.length);
	const title = $derived(`${NUMBERS[count] ?? count} ${count === 1 ? 'file has' : 'files have'} no place yet.`);
	const handling = {
		onPending: (begins: boolean) => (pending = begins),
		onProblem: (what: { message: string }) => (problem = what.message),
		onSuccess: (answer: Record<string, unknown> | undefined) => {
			problem = '';
			named = String(answer?.named ?? '');
			if (answer?.named) naming = false;
			if (!answer?.said) return;
			said = String(answer.said);
			chosen.clear();
		}
	};
	function showTried(answer: Record<string, unknown> | undefined) {
		problem = '';
		tried = { id: String(answer?.tried), filed: Number(answer?.filed), wrong: Number(answer?.wrong) };
	}
</script>

<svelte:head><title>Arrivals · {data.firm.name}</title></svelte:head>
<main id="sheet" class="sheet arrivals choosing" tabindex="-1">
	<header class="px-4 pt-5 pb-3 md:pl-[104px]">
		<h1 class="text-[1.65rem] leading-tight">{title}</h1>
		<p class="text-[0.88rem] text-(--half)">What clients send without being asked waits here and in Rounds until somebody says where it belongs.</p>
	</header>
	{#if problem}<p class="notice-wrong mx-4 mb-3 md:ml-[104px]" role="alert">{problem}</p>{/if}
	{#if said}<p class="notice-lamp mx-4 mb-3 md:ml-[104px]" role="status">{said} It stands under “Filed lately”, where it can be taken back.</p>{/if}
	{#if named}<p class="notice-lamp mx-4 mb-3 md:ml-[104px]" role="status">{named}</p>{/if}
	<ul>
		{#each data.waiting as one (one.id)}<li class="waiting" class:lit={chosen.has(one.id)}>
				<span class="came"
					>{one.came}{#if data.mayFile && !one.held}<input
							type="checkbox"
							class="ml-1.5"
							checked={chosen.has(one.id)}
							onclick={(event) => chosen.toggle(event, one.id, choosable)}
							aria-label="Choose {one.name}"
						/>{/if}</span
				>
				<a class="row" href="/desk/rounds/arrival-{one.id}" data-row>
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
			<p class="max-w-[50rem] text-[0.88rem] text-(--half)">
				{data.itself.filed} of the {data.itself.dealt} that came in the last ninety days. It takes two signs that agree; else it waits here, as what may
				answer something that is asked does. Of one client the upper rule is asked first.
			</p>
			<ul class="mt-1">
				{#each data.itself.rules as rule, index (rule.id)}{@const above = data.itself.rules[index - 1]}
					<li class="flex flex-wrap items-baseline gap-x-3 border-b border-(--rule) py-1.5 pr-[18px] text-[0.9rem]">
						{#if rule.institution !== null}<b>{accountName({ institution: rule.institution, lastFour: rule.lastFour ?? '' })}</b>
							<a class="text-(--half) underline decoration-dotted" href="/desk/clients/{rule.clientId}/statements">{rule.clientName}</a>
						{:else}<b>{ruleWordsSaid(rule.words)} from {rule.sender}</b>
							<a class="text-(--half) underline decoration-dotted" href="/desk/clients/{rule.clientId}/papers">{rule.clientName}</a>
							<span>{rule.folder ? `kept in ${rule.folder}` : 'kept among their papers'}</span>{/if}
						<span class="text-(--half)"
							>{rule.filed} filed{rule.takenBack > 0 ? `, ${rule.takenBack} taken back` : ''}; allowed by {rule.madeBy.split(' ')[0]}</span
						>
						{#if tried?.id === rule.id}<span role="status" class="text-(--lamp-deep)"
								>would have filed {tried.filed} in the past year{tried.filed > 0
									? `, ${tried.wrong === 0 ? 'none' : tried.wrong} of them elsewhere than you did`
									: ''}</span
							>{/if}
						<span class="ml-auto flex gap-x-3">
							<form method="post" action="/desk/arrivals?/tryRule" {@attach enhancedForm({ ...handling, onSuccess: showTried })}>
								<input type="hidden" name="ruleId" value={rule.id} />
								<button class="act-link text-sm" disabled={pending} aria-label="Try: {ruleName(rule)} of {rule.clientName}">Try it</button>
							</form>
							{#if data.mayFile}
								{#if rule.institution === null && above?.clientId === rule.clientId && above.institution === null}<form
										method="post"
										action="/desk/arrivals?/earlier"
										{@attach enhancedForm(handling)}
									>
										<input type="hidden" name="ruleId" value={rule.id} />
										<button class="act-link text-sm" disabled={pending} aria-label="Ask earlier: {ruleName(rule)} of {rule.clientName}">Up</button>
									</form>{/if}
								{#if rule.institution === null}<button
										class="act-link text-sm"
										aria-expanded={changing === rule.id}
										aria-label="Change: {ruleName(rule)} of {rule.clientName}"
										onclick={() => (changing = changing === rule.id ? '' : rule.id)}>Change</button
									>{/if}
								<form method="post" action="/desk/arrivals?/endRule" {@attach enhancedForm(handling)}>
									<input type="hidden" name="ruleId" value={rule.id} />
									<button class="act-link text-sm" disabled={pending} aria-label="Switch off: {ruleName(rule)} of {rule.clientName}"
										>Switch off</button
									>
								</form>
							{/if}
						</span>
						{#if changing === rule.id}<form
								method="post"
								action="/desk/arrivals?/changeRule"
								class="flex w-full flex-wrap items-end gap-3 pt-1 pb-2"
								{@attach enhancedForm({ ...handling, onSuccess: () => void ((problem = ''), (changing = '')) })}
							>
								<input type="hidden" name="ruleId" value={rule.id} />
								<label class="field w-[min(24rem,100%)]"
									><span>Words that all stand in its name, or in it</span><input name="words" value={rule.words.join(', ')} maxlength="300" /></label
								>
								<label class="field w-[min(15rem,100%)]"
									><span>Kept in the folder (none: leave it empty)</span><input
										name="folder"
										value={rule.folder ?? ''}
										maxlength="60"
										list="folder-names"
									/></label
								>
								<datalist id="folder-names"
									>{#each data.folders as name (name)}<option value={name}></option>{/each}</datalist
								>
								<button class="act-quiet" disabled={pending}>Save</button>
								<button type="button" class="act-link" onclick={() => (changing = '')}>Leave it</button>
							</form>{/if}
					</li>{/each}
			</ul>
			<details class="mt-2 text-[0.88rem]">
				<summary class="cursor-pointer">How much of it, by month and by client</summary>
				<div class="mt-1 grid max-w-[50rem] gap-x-10 gap-y-3 md:grid-cols-2">
					<ul>
						{#each data.itself.months as one (one.of)}<li class="share">
								<span>{dateWords('en', `${one.of}-01`, 'month')} {one.of.slice(0, 4)}</span><span>{one.filed} of {one.dealt}</span>
							</li>{/each}
					</ul>
					<ul>
						{#each data.itself.clients as one (one.of)}<li class="share"><span>{one.of}</span><span>{one.filed} of {one.dealt}</span></li>{/each}
					</ul>
				</div>
			</details>
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
	{#if naming && picked.length > 0}<RenamePanel
			papers={picked.map(({ id, name, cameOn, clientName, folder }) => ({ id, name, came: cameOn, client: clientName, folder: folder ?? '' }))}
			action="?/name"
			called={picked.length === 1 ? 'one file' : `${picked.length} files`}
			{pending}
			{handling}
			leave={() => (naming = false)}
		/>{/if}
	{#if picked.length > 0}
		<form method="post" action="?/putAway" class="bar" {@attach enhancedForm(handling)}>
			{#each picked as one (one.id)}<input type="hidden" name="paper" value={one.id} />{/each}
			<b class="mr-2">{picked.length === 1 ? 'One file' : `${picked.length} files`}</b>
			<label class="flex items-center gap-2"
				><span class="text-sm">Keep {picked.length === 1 ? 'it' : 'them'}</span><select name="folder" aria-label="Folder"
					><option value="">in no folder</option>{#each data.folders as name (name)}<option value={name}>in {name}</option>{/each}</select
				></label
			>
			<button class="act" formaction="?/keep" disabled={pending}>Keep among their papers</button>
			<button class="act-quiet" disabled={pending}>{picked.length === 1 ? 'It needs' : 'They need'} no place</button>
			<button type="button" class="act-quiet" aria-expanded={naming} onclick={() => (naming = !naming)}>Rename …</button>
			<button type="button" class="act-link ml-auto" onclick={() => chosen.clear()}>Choose none</button>
		</form>
	{/if}
</main>

<style>
	.sheet {
		min-height: calc(100dvh - 47px);
		background: linear-gradient(90deg, transparent 86px, var(--margin-line) 86px, var(--margin-line) 87px, transparent 87px) var(--sheet);
	}
	.waiting {
		display: grid;
		grid-template-columns: 86px minmax(0, 1fr);
		align-items: center;
		column-gap: 18px;
		border-bottom: 1px solid var(--rule);
	}
	.waiting > .row {
		grid-template-columns: minmax(0, 1.1fr) minmax(0, 1.3fr) minmax(0, 1fr);
		border-bottom: 0;
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
		background: var(--lamp-soft);
	}
	.share {
		display: flex;
		justify-content: space-between;
		gap: 12px;
		padding: 3px 0;
		border-bottom: 1px solid var(--rule);
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
		.waiting {
			grid-template-columns: minmax(0, 1fr);
			padding: 6px 16px 0;
		}
		.row,
		.waiting > .row {
			grid-template-columns: minmax(0, 1fr);
			gap: 2px;
			padding: 8px 16px;
		}
		.waiting > .row {
			padding: 4px 0 8px;
		}
		.came,
		.row > :last-child {
			padding-left: 0;
			text-align: left;
		}
	}
</style>
