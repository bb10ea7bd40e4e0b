<script lang="ts">
	import FirmSettings from '$lib/ui/firm/FirmSettings.svelte';
	import FieldProblem from '$lib/ui/forms/FieldProblem.svelte';
	import ChaseSteps from './ChaseSteps.svelte';
	import type { PageData } from './$types';

	/** When open requests and invitations are chased, and how often at most. */
	let { data }: { data: PageData } = $props();
	const f = $derived(data.details);
	const step = (n: number) =>
		n === 0 ? 'on the due date' : `${Math.abs(n)} business ${Math.abs(n) === 1 ? 'day' : 'days'} ${n < 0 ? 'before' : 'after'} the due date`;
</script>

<FirmSettings title="Reminders" action="changeChasing" mayChange={data.maySetUp}>
	{#snippet shown()}
		<ol class="mt-2 text-sm" aria-label="Chase plan “{f.chasePlan.name}”">
			{#each f.chasePlan.steps as s, i (i)}<li class="border-b border-(--rule-strong) py-1.5">
					{i + 1}. {step(s.businessDaysFromDue)}
				</li>{/each}
			<li class="border-b border-(--rule-strong) py-1.5 text-(--half)">Then it stops, and the client appears in Rounds.</li>
			<li class="border-b border-(--rule-strong) py-1.5">
				At most {f.pace.perWeek === 1 ? 'one reminder' : `${f.pace.perWeek} reminders`} a week to one person{f.pace.gapDays === 1
					? ''
					: f.pace.gapDays === 2
						? ', not on two days in a row'
						: `, ${f.pace.gapDays} days apart`}
			</li>
			<li class="py-1.5">Invitations: {data.reminders.invitation || 'no reminder'}</li>
		</ol>
	{/snippet}
	{#snippet fields(wrong: Record<string, string>)}
		<label class="field max-w-xs"><span>Name of the plan</span><input name="name" value={f.chasePlan.name} maxlength="80" /></label>
		<FieldProblem id="c-name" message={wrong.name} />
		<ChaseSteps
			name="before"
			words="Business days before the due date"
			days={f.chasePlan.steps.map((s) => -s.businessDaysFromDue).filter((n) => n > 0)}
			most={3}
		/>
		<ChaseSteps
			name="after"
			words="Business days after it; 0 is the day itself"
			days={f.chasePlan.steps.map((s) => s.businessDaysFromDue).filter((n) => n >= 0)}
			most={6}
		/>
		<ChaseSteps name="invitation" words="Business days after an invitation was sent" days={f.invitationSteps} most={4} />
		<div class="grid max-w-md gap-3 sm:grid-cols-2">
			<label class="field"
				><span>Reminders to one person in a week, at most</span><input name="perWeek" type="number" min="1" max="7" value={f.pace.perWeek} /></label
			>
			<label class="field"
				><span>Days between two reminders, at least</span><input name="gapDays" type="number" min="1" max="14" value={f.pace.gapDays} /></label
			>
		</div>
		{#each Object.entries(wrong).filter(([path]) => /^(steps|invitationSteps|gapDays|perWeek)/.test(path)) as [path, message] (path)}<FieldProblem
				id="c-{path}"
				{message}
			/>{/each}
		<p class="text-xs text-(--half)">All upcoming reminders are rescheduled. What has gone out counts.</p>
	{/snippet}
</FirmSettings>
