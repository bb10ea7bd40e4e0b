<script lang="ts">
	import type { FeeRhythm } from '$lib/core/letters/fees';
	import FeeInput from '$lib/ui/forms/FeeInput.svelte';
	import { enhancedForm } from '$lib/ui/forms/enhanced-form';
	import { feeAtDesk } from '$lib/words/fees';
	import type { PageData } from './$types';

	/** What the firm does for its clients, and what it usually costs. */
	let { data }: { data: PageData } = $props();
	let problem = $state('');
	let wrong = $state('');
	let service = $state('');
	/** the service whose fee is being written */
	let pricing = $state<{ id: string; fee: string; every: FeeRhythm } | null>(null);
	/** the service whose chase plan is being chosen */
	let planning = $state<string | null>(null);
	const handling = {
		onProblem: (p: { message: string; fields: Record<string, string> }) => {
			problem = p.fields.fee ? '' : p.message;
			wrong = p.fields.fee ?? '';
		},
		onSuccess: () => {
			problem = '';
			wrong = '';
			service = '';
			pricing = null;
			planning = null;
		}
	};
</script>

<section>
	<h2 class="text-[1.05rem]">Services</h2>
	<p class="mt-1 text-sm text-(--half)">
		What the firm does, and what it usually costs. An engagement says which of them a client has, and for what; letters show it as a table.
	</p>
	{#if problem}<p class="notice-wrong mt-2" role="alert">{problem}</p>{/if}
	<ul class="mt-2 text-sm">
		{#each data.services as s (s.id)}<li class="border-b border-(--rule-strong) py-1.5">
				<div class="flex flex-wrap items-baseline gap-x-3">
					<span>{s.name}</span>
					{#if s.fee !== null}<span class="text-(--half)">{feeAtDesk(s.fee, s.every, data.details.currency)}</span>{/if}
					{#if s.chasePlan !== null}<span class="text-(--half)"
							>chased by “{data.details.plans.find(({ key }) => key === s.chasePlan)?.name ?? data.details.plans[0].name}”</span
						>{/if}
				</div>
				<div class="flex flex-wrap items-baseline gap-x-3">
					<span class="mr-auto text-(--half)">{s.clients === 1 ? 'one client' : `${s.clients} clients`}</span>
					{#if data.maySetUp}
						<button
							type="button"
							class="act-link"
							aria-expanded={pricing?.id === s.id}
							aria-label="Fee of {s.name}"
							onclick={() => {
								wrong = '';
								pricing = pricing?.id === s.id ? null : { id: s.id, fee: s.fee ?? '', every: s.every };
							}}>Fee …</button
						>
						<button
							type="button"
							class="act-link"
							aria-expanded={planning === s.id}
							aria-label="Reminders of {s.name}"
							onclick={() => (planning = planning === s.id ? null : s.id)}>Reminders …</button
						>
						<form method="post" action="?/endService" {@attach enhancedForm(handling)}>
							<input type="hidden" name="serviceId" value={s.id} /><button class="act-link" aria-label="Remove {s.name}">Remove</button>
						</form>
					{/if}
				</div>
				{#if pricing?.id === s.id}
					<form method="post" action="?/priceService" class="flex flex-wrap items-baseline gap-x-3 gap-y-1 py-1.5" {@attach enhancedForm(handling)}>
						<input type="hidden" name="serviceId" value={s.id} />
						<FeeInput
							of={s.name}
							currency={data.details.currency}
							bind:fee={pricing.fee}
							bind:every={pricing.every}
							names={{ fee: 'fee', every: 'every' }}
							{wrong}
						/>
						<button class="act-quiet">Save the fee</button>
						<span class="text-xs text-(--half)">Left empty, it is agreed with each client.</span>
					</form>
				{/if}
				{#if planning === s.id}
					<form method="post" action="?/planService" class="flex flex-wrap items-end gap-x-3 gap-y-2 py-1.5" {@attach enhancedForm(handling)}>
						<input type="hidden" name="serviceId" value={s.id} />
						<label class="field max-w-full"
							><span>Reminders of what is asked for {s.name} from now on</span><select name="chasePlan" value={s.chasePlan ?? ''}
								><option value="">as the person, the client or the firm has it</option>{#each data.details.plans as plan (plan.key)}<option
										value={plan.key}>{plan.name}: {plan.words}</option
									>{/each}</select
							></label
						>
						<button class="act-quiet">Save the plan</button>
						<span class="basis-full text-xs text-(--half)"
							>It holds for lists that are for this service, and for whatever else is asked of its clients where nothing else is chosen.</span
						>
					</form>
				{/if}
			</li>{:else}<li class="py-1.5 text-(--half)">None yet.{data.maySetUp ? '' : ' An administrator makes the list.'}</li>{/each}
	</ul>
	{#if data.maySetUp}
		<form method="post" action="?/addService" class="mt-2 flex items-end gap-2" {@attach enhancedForm(handling)}>
			<label class="field flex-1"><span>Another service</span><input name="name" bind:value={service} maxlength="80" /></label>
			<button class="act-quiet">Add it</button>
		</form>
	{/if}
	{#if data.mayHandOn}<p class="mt-2 text-sm"><a class="act-link" href="/desk/firm/authorisations">Payment authorisations of clients</a></p>{/if}
</section>
