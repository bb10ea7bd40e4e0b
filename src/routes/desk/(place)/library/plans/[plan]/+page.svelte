<script lang="ts">
	import { tick, untrack } from 'svelte';
	import { page } from '$app/state';
	import { CHASE_BY, chasePlanForm, chaseWhenInWords, WEEKDAYS, aroundDue } from '$lib/core/chasing/chase-plan';
	import { askBeforeLeaving } from '$lib/ui/asking/list-in-hand.svelte';
	import { askDesk } from '$lib/ui/desk/ask-desk';
	import { enhancedForm } from '$lib/ui/forms/enhanced-form';
	import FieldProblem from '$lib/ui/forms/FieldProblem.svelte';
	import { inHand, STEP_BY, STEP_KINDS, typedStep, type StepInHand, type StepKind } from '$lib/ui/library/plan-in-hand';
	import PlanLine from '$lib/ui/library/PlanLine.svelte';
	import { DOING_WORDS, planUseInWords, stepInWords } from '$lib/ui/library/plan-words';
	import type { PageProps } from './$types';
	import type { PlanLookAhead } from '$lib/server/firm-settings/chase-plans';

	/** A chase plan: its steps, and what saving it would change. */
	let { data }: PageProps = $props();
	const isNew = $derived(data.key === 'new');
	let ids = 0;
	const fresh = () => (data.plan?.steps ?? [aroundDue(1)]).map((step) => inHand(step, ids++));
	let name = $state(untrack(() => data.plan?.name ?? ''));
	let steps = $state<StepInHand[]>(untrack(fresh));
	let seen = $state(untrack(() => data.stamp ?? ''));
	let problem = $state('');
	let wrong = $state<Record<string, string>>({});
	let pending = $state(false);
	let savedNow = $state(false);
	let list = $state<HTMLElement>();

	const typed = $derived(JSON.stringify(steps.map(typedStep)));
	const written = $derived(`${name}\n${typed}`);
	let saved = $state(untrack(() => written));
	const changed = $derived(written !== saved);
	askBeforeLeaving(() => changed && !pending, 'This plan is not saved. Leave without saving?');

	/** the plan as it is written, once it is whole */
	const whole = $derived(chasePlanForm.safeParse({ name: name || 'x', steps: JSON.parse(typed) }));

	/** drawn as it was whole last, so that nothing jumps while a number is typed */
	let drawn = $state(untrack(() => data.plan));
	$effect(() => {
		if (whole.success) drawn = whole.data;
	});

	type Ahead = Omit<PlanLookAhead, 'busiest'> & { busiest: { day: string; calls: number } | null };
	let ahead = $state<Ahead | null>(null);
	let looking = $state(false);
	$effect(() => {
		const now = written;
		// what was wrong is said anew of what is written now
		problem = '';
		if (isNew || !changed || !data.maySetUp) return void (ahead = null);
		looking = true;
		const timer = setTimeout(async () => {
			const answer = await askDesk<{ ahead: Ahead }>(`${page.url.pathname}?/lookAhead`, { name, steps: typed }, (message, told) => {
				if (now === written) wrong = told.fields;
			});
			if (now !== written) return;
			looking = false;
			ahead = answer?.ahead ?? null;
			if (answer) wrong = {};
		}, 400);
		return () => clearTimeout(timer);
	});

	async function add(kind: StepKind) {
		const last = steps.at(-1);
		const days = kind === 'after_due' && last?.kind === 'after_due' ? String(Number(last.days) + 4 || 1) : kind === 'every' ? '7' : '3';
		steps.push({ id: ids++, kind, days, weekday: '1', times: '3', by: 'usual', firmer: false });
		await tick();
		list?.querySelector<HTMLElement>('li:last-child select, li:last-child input')?.focus();
	}
	async function remove(at: number) {
		steps.splice(at, 1);
		await tick();
		const rows = list?.querySelectorAll<HTMLElement>('[data-remove]') ?? [];
		(rows[Math.min(at, rows.length - 1)] ?? list)?.focus();
	}
	async function up(at: number) {
		const [moved] = steps.splice(at, 1);
		steps.splice(at - 1, 0, moved);
		await tick();
		list?.querySelectorAll<HTMLElement>('li')[at - 1]?.querySelector<HTMLElement>('[data-up]:not(:disabled), [data-remove]')?.focus();
	}
	function asItWas() {
		name = data.plan?.name ?? '';
		steps = fresh();
		saved = written;
		wrong = {};
		problem = '';
		seen = data.stamp ?? '';
	}
	// another plan is open, somebody else has saved it, or it was saved here
	let of = untrack(() => data.key);
	$effect(() => {
		const now = data.stamp ?? '';
		const { key } = data;
		untrack(() => {
			if (key === of && (changed || now === seen)) return;
			of = key;
			asItWas();
		});
	});
	const wrongOf = (at: number) => Object.entries(wrong).find(([path]) => path.startsWith(`steps.${at}.`) || path === `steps.${at}`)?.[1] ?? '';
	const margin = (step: StepInHand, at: number) => {
		const one = chasePlanForm.shape.steps.safeParse([typedStep(step)]);
		return one.success
			? chaseWhenInWords(one.data[0].when)
					.replace('business ', '')
					.replace(/ it (is|was) due$/, '')
			: `step ${at + 1}`;
	};
	const people = (n: number) => (n === 1 ? 'one person' : `${n} people`);
	const messages = (n: number) => (n === 1 ? 'one message' : `${n} messages`);
	const IS = { new: 'new', gone: 'does not go', other: 'instead', stays: '' } as const;
</script>

<svelte:head><title>{data.plan?.name ?? 'New plan'} · Chase plans · {data.firm.name}</title></svelte:head>

<main id="sheet" class="plan outline-none" tabindex="-1">
	<div class="sheet-part">
		<div class="head">
			{#if data.maySetUp}<h1 class="sr-only">Chase plan</h1>{/if}
			<p class="text-sm"><a class="act-link inline-block min-h-6" href="/desk/library/plans">Chase plans</a></p>
			{#if data.maySetUp}
				<label class="block">
					<span class="sr-only">Name of the plan</span>
					<input
						class="name"
						bind:value={name}
						maxlength="80"
						placeholder="Name of the plan"
						aria-invalid={wrong.name ? 'true' : undefined}
						aria-describedby={wrong.name ? 'plan-name' : undefined}
					/>
				</label>
				<FieldProblem id="plan-name" message={wrong.name} />
			{:else}<h1 class="text-[1.65rem] leading-tight">{data.plan?.name}</h1>{/if}
			<p class="text-[0.9rem] text-(--half)">
				{data.key === 'usual' ? 'Our usual plan; ' : ''}{isNew
					? 'Nothing is chased by it until it is chosen somewhere.'
					: `${planUseInWords(data.use)}.`}
			</p>
			{#if drawn}<PlanLine plan={drawn} calendar={data.calendar} example={data.example} />{/if}
		</div>
		{#if data.maySetUp}
			<ol class="steps" bind:this={list} aria-label="Steps" tabindex="-1">
				{#each steps as step, at (step.id)}
					<li class="step" class:wrong={wrongOf(at)}>
						<span class="when">{margin(step, at)}</span>
						<div class="what">
							<div class="controls">
								{#if step.kind === 'weekly'}<select bind:value={step.weekday} class="line-input weekday" aria-label="Day of the week, step {at + 1}"
										>{#each WEEKDAYS as day, n (day)}<option value={String(n + 1)}>{day}</option>{/each}</select
									>{:else}<input
										bind:value={step.days}
										inputmode="numeric"
										maxlength="3"
										class="line-input days"
										aria-label="Days, step {at + 1}"
										aria-invalid={wrongOf(at) ? 'true' : undefined}
									/>{/if}
								<select bind:value={step.kind} class="line-input kind-select" aria-label="When, step {at + 1}"
									>{#each STEP_KINDS as kind (kind.kind)}<option value={kind.kind}>{kind.words}</option>{/each}</select
								>
								{#if step.kind === 'weekly' || step.kind === 'every' || step.kind === 'every_business'}<label class="times"
										>at most <input
											bind:value={step.times}
											inputmode="numeric"
											maxlength="2"
											class="line-input days"
											aria-label="Times, step {at + 1}"
										/> times</label
									>{/if}
							</div>
							<div class="controls">
								<select bind:value={step.by} class="line-input by-select" aria-label="What it does, step {at + 1}"
									>{#each CHASE_BY as by (by)}<option value={by}>{STEP_BY[by]}</option>{/each}</select
								>
								{#if step.by !== 'call' && step.by !== 'partner'}<label class="times min-h-7"
										><input type="checkbox" bind:checked={step.firmer} /> in firmer words</label
									>{/if}
								<span class="ml-auto flex gap-1">
									<button type="button" class="act-link" data-up disabled={at === 0} onclick={() => up(at)} aria-label="Move step {at + 1} up"
										>Up</button
									>
									<button type="button" class="act-link" data-remove onclick={() => remove(at)} aria-label="Take out step {at + 1}">Take out</button>
								</span>
							</div>
							<FieldProblem id="step-{at}" message={wrongOf(at)} />
							{#if !changed && data.works[at + 1]}<p class="text-[0.83rem] text-(--half)">{data.works[at + 1]}</p>{/if}
						</div>
					</li>
				{/each}
			</ol>
			<FieldProblem id="plan-steps" message={wrong.steps} />
			<div class="step">
				<span class="when">add</span>
				<div class="what">
					<div class="controls">
						<button type="button" class="act-link" onclick={() => add('after_due')}>around the due date</button>
						<button type="button" class="act-link" onclick={() => add('asked')}>after it was asked</button>
						<button type="button" class="act-link" onclick={() => add('after')}>after the step before</button>
						<button type="button" class="act-link" onclick={() => add('every')}>every … days</button>
						<button type="button" class="act-link" onclick={() => add('weekly')}>weekly on …</button>
						<button type="button" class="act-link" onclick={() => add('silent')}>after silence</button>
					</div>
				</div>
			</div>
		{:else}
			<ol class="steps" aria-label="Steps">
				{#each data.plan?.steps ?? [] as step, at (at)}<li class="step">
						<span class="when">{at + 1}</span><span class="what"
							><span>{stepInWords(step)}</span>{#if data.works[at + 1]}<span class="text-[0.83rem] text-(--half)">{data.works[at + 1]}</span
								>{/if}</span
						>
					</li>{/each}
			</ol>
		{/if}
		<div class="after">
			<p>After the last step nothing more goes by itself, and the client stands in Rounds.</p>
			<p>
				At most <b>{data.pace.perWeek === 1 ? 'one a week' : `${data.pace.perWeek} a week`}</b> to one person{data.pace.gapDays === 2
					? ', never two days in a row'
					: data.pace.gapDays > 2
						? `, ${data.pace.gapDays} days apart`
						: ''}, all businesses together; nothing where nothing is open. A step that would come no earlier than a later one gives way to it.
			</p>
		</div>
	</div>
	<aside class="ahead" aria-label="What saving it would change" aria-live="polite">
		{#if data.maySetUp}
			<h2 class="text-[1.25rem]">{isNew ? 'A new plan' : 'If this is saved, in the next four weeks'}</h2>
			{#if problem}<p class="notice-wrong mt-2" role="alert">{problem}</p>{/if}
			{#if isNew}<p class="mt-2 text-sm text-(--half)">
					Once it is saved, choose it for a list of the Library, for a client, for a request, or for single lines.
				</p>
			{:else if !changed}<p class="mt-2 text-sm text-(--half)">
					{savedNow ? 'It is saved. ' : ''}Change something, and here stands who would get what, and when, before you save it.
				</p>
			{:else if !whole.success}{#if !problem}<p class="mt-2 text-sm text-(--half)">It is not whole yet: {whole.error.issues[0].message}</p>{/if}
			{:else if ahead}
				<p class="mt-2 text-sm">
					<b
						>{messages(ahead.messages.after)}{ahead.messages.after === ahead.messages.before
							? ', as many as now'
							: ` instead of ${ahead.messages.before}`}</b
					>, to {people(ahead.people.after)}{ahead.calls.after > 0 || ahead.calls.before > 0
						? `; ${ahead.calls.after === 1 ? 'one call' : `${ahead.calls.after} calls`} for us${ahead.calls.before > 0 ? ` instead of ${ahead.calls.before}` : ''}`
						: ''}{ahead.busiest ? `, ${ahead.busiest.calls} of them on ${ahead.busiest.day}` : ''}{ahead.told.after > 0
						? `; a partner is told ${ahead.told.after === 1 ? 'once' : `${ahead.told.after} times`}`
						: ''}. Nobody gets two messages on one day.
				</p>
			{:else}<p class="mt-2 text-sm text-(--half)">{looking ? 'Looking ahead …' : 'It could not be looked at just now. Saving says why.'}</p>{/if}
			<div class="mt-4 flex flex-wrap items-center gap-2">
				<form
					method="post"
					action="?/save"
					{@attach enhancedForm({
						onPending: (begins) => void (pending = begins),
						onProblem: (p) => {
							problem = p.message;
							wrong = p.fields ?? {};
						},
						onSuccess: () => {
							problem = '';
							wrong = {};
							saved = written;
							savedNow = true;
						}
					})}
				>
					<input type="hidden" name="name" value={name} /><input type="hidden" name="steps" value={typed} /><input
						type="hidden"
						name="seen"
						value={seen}
					/>
					<button class="act" disabled={pending}>Save the plan</button>
				</form>
				{#if changed && !isNew}<button type="button" class="act-quiet" onclick={asItWas}>Leave it as it was</button>{/if}
				{#if !isNew && data.key !== 'usual' && !changed}<form
						method="post"
						action="?/remove"
						{@attach enhancedForm({ onPending: (begins) => void (pending = begins), onProblem: (p) => void (problem = p.message) })}
					>
						<button class="act-link" disabled={pending}>Remove this plan</button>
					</form>
					<p class="w-full text-xs text-(--half)">What is chased by it is chased by “{data.usualName}” then.</p>{/if}
			</div>
			{#if ahead && changed && whole.success}
				<ul class="mt-4 text-sm">
					{#each ahead.changes as one (one.contactId)}<li class="border-t border-(--rule-strong) py-2">
							<b class="font-semibold">{one.clients.join(', ')}</b> <span class="text-(--half)">{one.name}</span>
							<ul>
								{#each one.days.filter(({ is }) => is !== 'stays') as change (change.day)}<li>
										{change.day}
										<span class:gone={change.is === 'gone'}>{change.does.map((does) => DOING_WORDS[does]).join(' and ')}</span>
										<b class="font-semibold">{IS[change.is]}</b>
									</li>{/each}
							</ul>
							{#if one.days.some(({ is }) => is === 'stays')}<span class="text-(--half)"
									>{one.days.filter(({ is }) => is === 'stays').length === 1
										? 'One other stays as it is.'
										: `${one.days.filter(({ is }) => is === 'stays').length} others stay as they are.`}</span
								>{/if}
						</li>{/each}
				</ul>
				<p class="border-t border-(--rule-strong) pt-2 text-sm text-(--half)">
					{ahead.changed > ahead.changes.length ? `And ${people(ahead.changed - ahead.changes.length)} more. ` : ''}{ahead.changed === 0
						? 'Nothing changes for anybody.'
						: ahead.same > 0
							? `Nothing changes for ${ahead.same === 1 ? 'one other person' : `${ahead.same} others`}.`
							: ''} What has gone out counts; what a changed plan would have sent before today does not go.
				</p>
			{/if}
		{:else}<p class="text-sm text-(--half)">An administrator of the firm can change this plan.</p>{/if}
	</aside>
</main>

<style>
	.plan {
		display: grid;
		grid-template-columns: minmax(0, 1fr) minmax(0, 430px);
		min-height: calc(100dvh - 47px);
	}
	.sheet-part {
		padding: 18px 0 40px;
		background: linear-gradient(90deg, transparent 118px, var(--margin-line) 118px, var(--margin-line) 119px, transparent 119px) var(--sheet);
	}
	.head {
		padding: 0 18px 0 136px;
	}
	.name {
		width: 100%;
		border: 0;
		border-bottom: 1px dotted var(--rule-strong);
		background: none;
		padding: 2px 0;
		font-family: 'Source Serif 4 Variable', serif;
		font-size: 1.65rem;
		font-weight: bold;
	}
	.step {
		display: grid;
		grid-template-columns: 118px minmax(0, 1fr);
		align-items: center;
		border-bottom: 1px solid var(--rule-strong);
	}
	.step.wrong {
		background: var(--lamp-soft);
	}
	.when {
		padding: 6px 12px 6px 8px;
		text-align: right;
		font-size: 0.77rem;
		line-height: 1.2;
		color: var(--half);
	}
	.what {
		padding: 8px 18px;
		display: grid;
		gap: 6px;
	}
	.controls {
		display: flex;
		flex-wrap: wrap;
		align-items: center;
		gap: 6px 12px;
		font-size: 0.87rem;
	}
	.days {
		width: 3rem;
		text-align: right;
	}
	.weekday {
		width: 7.5rem;
	}
	.kind-select {
		width: 17.5rem;
	}
	.by-select {
		width: 16.5rem;
	}
	.times {
		display: inline-flex;
		align-items: center;
		gap: 6px;
	}
	.after {
		padding: 14px 18px 0 136px;
		font-size: 0.85rem;
		color: var(--half);
	}
	.ahead {
		padding: 26px 22px;
		border-left: 1px solid var(--rule-strong);
		background: var(--leaf);
	}
	.gone {
		text-decoration: line-through;
	}
	@media (max-width: 900px) {
		.plan {
			display: block;
		}
		.sheet-part {
			background: var(--sheet);
		}
		.head,
		.after {
			padding-left: 16px;
		}
		.step {
			display: block;
		}
		.when {
			display: block;
			text-align: left;
			padding: 8px 16px 0;
		}
		.ahead {
			border-left: 0;
			border-top: 1px solid var(--rule-strong);
		}
	}
</style>
