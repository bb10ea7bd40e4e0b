<script lang="ts">
	import FirmSettings from '$lib/ui/firm/FirmSettings.svelte';
	import FieldProblem from '$lib/ui/forms/FieldProblem.svelte';
	import ChaseSteps from './ChaseSteps.svelte';
	import type { PageData } from './$types';

	/** By which plans open requests are chased, how often one person is reminded at most, and when invitations are. */
	let { data }: { data: PageData } = $props();
	const f = $derived(data.details);
</script>

<FirmSettings title="Reminders" action="changePace" mayChange={data.maySetUp}>
	{#snippet shown()}
		<ul class="mt-2 text-sm">
			{#each f.plans.filter(({ key }) => key !== 'none') as plan (plan.key)}<li class="border-b border-(--rule-strong) py-1.5">
					<a class="font-semibold underline decoration-dotted underline-offset-2" href="/desk/library/plans/{plan.key}">{plan.name}</a>{plan.key ===
					'usual'
						? ', the usual plan'
						: ''}<span class="block text-(--half)">{plan.words}</span>
				</li>{/each}
			<li class="border-b border-(--rule-strong) py-1.5">
				At most {f.pace.perWeek === 1 ? 'one reminder' : `${f.pace.perWeek} reminders`} a week to one person{f.pace.gapDays === 1
					? ''
					: f.pace.gapDays === 2
						? ', not on two days in a row'
						: `, ${f.pace.gapDays} days apart`}
			</li>
			<li class="py-1.5">Invitations: {data.reminders.invitation || 'no reminder'}</li>
		</ul>
		<p class="mt-1 text-sm"><a class="act-link" href="/desk/library/plans">Chase plans are in the Library</a></p>
	{/snippet}
	{#snippet fields(wrong: Record<string, string>)}
		<ChaseSteps name="invitation" words="Business days after an invitation was sent" days={f.invitationSteps} most={4} />
		<div class="grid max-w-md gap-3 sm:grid-cols-2">
			<label class="field"
				><span>Reminders to one person in a week, at most</span><input name="perWeek" type="number" min="1" max="7" value={f.pace.perWeek} /></label
			>
			<label class="field"
				><span>Days between two reminders, at least</span><input name="gapDays" type="number" min="1" max="14" value={f.pace.gapDays} /></label
			>
		</div>
		{#each Object.entries(wrong).filter(([path]) => /^(invitationSteps|gapDays|perWeek)/.test(path)) as [path, message] (path)}<FieldProblem
				id="c-{path}"
				{message}
			/>{/each}
		<p class="text-xs text-(--half)">All upcoming reminders are rescheduled. What has gone out counts.</p>
	{/snippet}
</FirmSettings>
