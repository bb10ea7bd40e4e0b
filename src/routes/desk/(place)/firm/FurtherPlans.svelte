<script lang="ts">
	import FirmSettings from '$lib/ui/firm/FirmSettings.svelte';
	import FieldProblem from '$lib/ui/forms/FieldProblem.svelte';
	import { enhancedForm } from '$lib/ui/forms/enhanced-form';
	import ChaseSteps from './ChaseSteps.svelte';
	import type { PageData } from './$types';

	/** Chase plans beside the usual one. */
	let { data }: { data: PageData } = $props();
	const f = $derived(data.details);
	let problem = $state('');
	const handling = {
		onProblem: (p: { message: string }) => (problem = p.message),
		onSuccess: () => void (problem = '')
	};
</script>

<FirmSettings title="Further chase plans" action="addPlan" mayChange={data.maySetUp} stays>
	{#snippet shown()}
		<p class="mt-1 text-sm text-(--half)">Chosen for a list, a client, or a single request; otherwise “{f.chasePlan.name}” holds.</p>
		{#if problem}<p class="notice-wrong mt-2" role="alert">{problem}</p>{/if}
		<ul class="mt-2 text-sm">
			{#each f.furtherPlans as plan (plan.key)}<li class="flex items-baseline gap-3 border-b border-(--rule-strong) py-1.5">
					<b class="font-semibold">{plan.name}</b><span class="flex-1 text-(--half)">{plan.words}</span>
					{#if data.maySetUp}<form method="post" action="?/removePlan" {@attach enhancedForm(handling)}>
							<input type="hidden" name="key" value={plan.key} /><button class="act-link" aria-label="Remove the plan {plan.name}">Remove</button>
						</form>{/if}
				</li>{:else}<li class="py-1.5 text-(--half)">None yet. “No reminders” can always be chosen.</li>{/each}
		</ul>
	{/snippet}
	{#snippet fields(wrong: Record<string, string>)}
		<label class="field max-w-xs"><span>Name of the plan</span><input name="name" maxlength="80" required /></label>
		<FieldProblem id="fp-name" message={wrong.name} />
		<ChaseSteps name="before" words="Business days before the due date" days={[]} most={3} />
		<ChaseSteps name="after" words="Business days after it; 0 is the day itself" days={[]} most={6} />
		<FieldProblem id="fp-steps" message={wrong.steps} />
	{/snippet}
</FirmSettings>
