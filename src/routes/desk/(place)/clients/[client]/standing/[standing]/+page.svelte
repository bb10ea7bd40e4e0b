<script lang="ts">
	import { stoppedPause, untilSigned } from '$lib/core/requests/after-letters';
	import { titleWithoutPeriod } from '$lib/core/schedules/due-rule';
	import { dateWords } from '$lib/words/dates';
	import { enhancedForm } from '$lib/ui/forms/enhanced-form';
	import RecurringSheet from '$lib/ui/asking/RecurringSheet.svelte';

	let { data } = $props();
	const mayChange = $derived(data.acts.includes('send_request'));
	const recurring = $derived(data.recurring);
	let problem = $state('');
	let moving = $state<string | null>(null);
	let asking = $state<'paused' | 'ended' | null>(null);
	let starting = $state(false);
	const next = $derived(data.coming.find((one) => !one.skipped) ?? null);
	const handling = {
		onProblem: (p: { message: string }) => (problem = p.message),
		onSuccess: () => void (problem = '')
	};
	const OUTCOMES = { made: 'appeared', skipped: 'skipped', passed_over: 'passed over' } as const;
</script>

<svelte:head><title>{recurring.title} · {data.client.name}</title></svelte:head>

{#snippet beside()}
	{#if problem}<p class="notice-wrong mb-3" role="alert">{problem}</p>{/if}
	<p class="text-sm">
		{#if recurring.state === 'ended'}<b>Ended.</b> {recurring.stateReason ?? ''}
		{:else if recurring.state === 'paused'}<b class="text-(--lamp-deep)">Paused.</b>
			{recurring.stateReason ?? ''}
			{recurring.after.length > 0
				? (stoppedPause(recurring.after) ?? `Nothing appears ${untilSigned(recurring.after)}; then it goes on by itself.`)
				: `Nothing appears until ${recurring.resumesOn ? dateWords('en', recurring.resumesOn) : 'it goes on'}.`}
		{:else if !recurring.clientIsActive}<b class="text-(--lamp-deep)">On hold,</b> since the firm does not work for this client at the moment.
		{:else if data.coming.some((one) => !one.skipped)}Next: <b>{data.coming.find((one) => !one.skipped)?.title}</b>, {data.coming.find(
				(one) => !one.skipped
			)?.asked}. Until then {data.client.name} does not see it.
		{:else}Nothing comes any more by its rule.{/if}
	</p>
	{#if recurring.state !== 'ended' && mayChange}
		<div class="mt-2 flex flex-wrap gap-2">
			{#if next}<button class="act-quiet" aria-expanded={starting} onclick={() => (starting = !starting)}>Ask the next one now …</button>{/if}
			{#if recurring.state === 'paused'}
				<form method="post" action="?/move" {@attach enhancedForm(handling)}>
					<input type="hidden" name="to" value="running" /><button class="act-quiet">Resume</button>
				</form>
			{:else}<button class="act-quiet" aria-expanded={asking === 'paused'} onclick={() => (asking = asking === 'paused' ? null : 'paused')}
					>Pause …</button
				>{/if}
			<button class="act-quiet" aria-expanded={asking === 'ended'} onclick={() => (asking = asking === 'ended' ? null : 'ended')}>End …</button>
		</div>
	{/if}
	{#if starting && next}
		<form
			method="post"
			action="?/startNow"
			class="notice-lamp mt-2 space-y-2"
			{@attach enhancedForm({ ...handling, close: () => (starting = false) })}
		>
			<p class="text-sm">
				<b>{next.title}</b> goes to {recurring.contactName ?? data.client.name} now, due {next.due}{next.chases.length > 0
					? `; reminders ${next.chases.join(', ')}`
					: ''}. By its rule it would be asked {next.asked}.{#if next.periodEnds && next.periodEnds >= data.today}&nbsp;<b
						>Its period is not over: it ends {dateWords('en', next.periodEnds)}.</b
					>{/if}
			</p>
			<input type="hidden" name="day" value={next.ruleDay} /><button class="act">Ask {next.title} now</button>
		</form>
	{/if}
	{#if asking}
		<form
			method="post"
			action="?/move"
			class="mt-2 flex flex-wrap items-end gap-2"
			{@attach enhancedForm({ ...handling, close: () => (asking = null) })}
		>
			<input type="hidden" name="to" value={asking} />
			<input class="line-input" name="reason" maxlength="300" placeholder="Why, for whoever looks later" aria-label="Why" />
			{#if asking === 'paused'}<label class="field"><span>Until, if you know</span><input type="date" name="until" min={data.today} /></label>
				{#if data.openLetters.length > 0}<label class="field"
						><span>Or until all have signed</span><select name="afterLetter"
							><option value="">no letter</option>{#each data.openLetters as letter (letter.id)}<option value={letter.id}>{letter.title}</option
								>{/each}</select
						></label
					>{/if}{/if}
			<button class="act-quiet whitespace-nowrap">{asking === 'paused' ? 'Pause it' : 'End it'}</button>
		</form>
	{/if}
	{#if data.coming.length > 0}
		<h2 class="mt-4 text-[1.05rem]">The next {data.coming.length}</h2>
		<ol class="mt-1 text-sm">
			{#each data.coming as one (one.ruleDay)}
				<li class="border-b border-(--rule-strong) py-1">
					<div class="flex items-baseline gap-3">
						<b class="min-w-0 flex-1 truncate" class:gone={one.skipped}>{one.title}</b>
						{#if mayChange}<form method="post" action="?/skip" {@attach enhancedForm(handling)}>
								<input type="hidden" name="day" value={one.ruleDay} /><input type="hidden" name="skip" value={one.skipped ? 'no' : 'yes'} />
								<button class="act-link" aria-label="{one.skipped ? 'Include' : 'Skip'} {one.title}">{one.skipped ? 'include' : 'skip'}</button>
							</form>{/if}
						{#if !one.skipped && mayChange}<button
								class="act-link"
								aria-label="Move {one.title}"
								aria-expanded={moving === one.ruleDay}
								onclick={() => (moving = moving === one.ruleDay ? null : one.ruleDay)}>move</button
							>{/if}
					</div>
					<span class="text-(--half)"
						>{#if one.skipped}skipped{:else}asked {one.asked}{one.moved ? ' (moved)' : ''}, due {one.due}{one.chases.length > 0
								? `; reminders ${one.chases.join(', ')}`
								: ''}{/if}</span
					>
					{#if moving === one.ruleDay}
						<form method="post" action="?/moveOne" class="mt-1 flex gap-2" {@attach enhancedForm({ ...handling, close: () => (moving = null) })}>
							<input type="hidden" name="day" value={one.ruleDay} />
							<input type="date" name="moveTo" class="line-input !w-auto" min={data.today} value={one.askedOn} aria-label="New day of {one.title}" />
							<button class="act-quiet">Move it</button>
							{#if one.moved}<button class="act-quiet" name="back" value="yes">Back to its day</button>{/if}
						</form>
					{/if}
				</li>
			{/each}
		</ol>
	{/if}
	{#if data.made.length > 0}
		<details class="mt-3 text-sm">
			<summary class="cursor-pointer text-(--half)">{data.made.length} so far</summary>
			<ol class="mt-1">
				{#each data.made as one (one.ruleDay)}<li class="border-b border-(--rule-strong) py-1">
						{one.title ?? one.ruleDay}
						<span class="text-(--half)"
							>{OUTCOMES[one.outcome]}
							{one.at}{one.outcome === 'made' ? `, ${one.items - one.open} of ${one.items} done` : ''}{one.outcome === 'made' &&
							!one.told &&
							!one.quiet
								? '; nobody is told yet'
								: ''}</span
						>
					</li>{/each}
			</ol>
		</details>
	{/if}
	<h2 class="mt-5 mb-2 text-[1.05rem]">What it is</h2>
{/snippet}

<RecurringSheet
	heading={titleWithoutPeriod(recurring.title, recurring.schedule.period)}
	client={data.client}
	begun={{ ...recurring, ...recurring.schedule, rule: recurring.pattern ? '' : recurring.schedule.rule }}
	version={recurring.version}
	files={data.files}
	services={data.services}
	letter={data.letter}
	place={data.place}
	saveWords="Save the change"
	{mayChange}
	{beside}
/>

<style>
	.gone {
		font-weight: 400;
		color: var(--half);
		text-decoration: line-through;
	}
</style>
