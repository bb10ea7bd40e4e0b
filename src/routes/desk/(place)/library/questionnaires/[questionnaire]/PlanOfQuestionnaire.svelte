<script lang="ts">
	import type { WritingPlace } from '$lib/core/requests/writing-place';
	import { enhancedForm } from '$lib/ui/forms/enhanced-form';

	/** By which plan a questionnaire is chased wherever it is asked, and the form that chooses it. */
	let {
		questionnaire,
		plans,
		mayKeep
	}: {
		questionnaire: { id: string; chasePlan: string | null };
		plans: WritingPlace['plans'];
		mayKeep: boolean;
	} = $props();
	let open = $state(false);
	let problem = $state('');
	let pending = $state(false);
	let opener = $state<HTMLButtonElement>();
	const plan = $derived(plans.find(({ key }) => key === questionnaire.chasePlan));

	function close() {
		open = false;
		problem = '';
		opener?.focus();
	}
</script>

<div>
	<p>
		{plan ? `Reminded by “${plan.name}”.` : 'Reminded as its list, the client or the firm has it.'}
		{#if mayKeep}<button class="act-link min-h-6" bind:this={opener} aria-expanded={open} onclick={() => (open ? close() : (open = true))}
				>Reminders …</button
			>{/if}
	</p>
	{#if open}<form
			method="post"
			action="?/plan"
			class="mt-1 flex flex-wrap items-end gap-3"
			{@attach enhancedForm({
				onPending: (begins) => (pending = begins),
				onProblem: (wrong) => (problem = wrong.message),
				onSuccess: close
			})}
		>
			{#if problem}<p class="notice-wrong basis-full" role="alert">{problem}</p>{/if}
			<label class="field max-w-full"
				><span>Reminders of it wherever it is asked from now on</span><select name="chasePlan" value={questionnaire.chasePlan ?? ''}
					><option value="">as its list, the client or the firm has it</option>{#each plans as one (one.key)}<option value={one.key}
							>{one.name}: {one.words}</option
						>{/each}</select
				></label
			>
			<button class="act-quiet" disabled={pending}>Save the plan</button>
		</form>{/if}
</div>
