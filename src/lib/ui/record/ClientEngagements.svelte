<script lang="ts">
	import { dateWords } from '$lib/words/dates';
	import type { Act } from '$lib/core/people/roles';
	import type { FeeRhythm } from '$lib/core/letters/fees';
	import type { Engagement } from '$lib/server/clients/client-record';
	import { serviceWithFee } from '$lib/words/fees';
	import FeeInput from '../forms/FeeInput.svelte';
	import { enhancedForm } from '../forms/enhanced-form';

	let {
		clientId,
		engagements,
		services,
		currency,
		today,
		mine
	}: {
		clientId: string;
		engagements: Engagement[];
		/** with what each usually costs */ services: { id: string; name: string; fee: string | null; every: FeeRhythm }[];
		currency: string;
		today: string;
		mine: (act: Act) => boolean;
	} = $props();
	/** what is being agreed for each service that is ticked */
	let agreed = $state<Record<string, { fee: string; every: FeeRhythm }>>({});
	let wrong = $state<Record<string, string>>({});
	function begin(engagement: Engagement | null) {
		problem = '';
		wrong = {};
		agreed = Object.fromEntries(
			(engagement?.services ?? []).map(({ id, fee, every }) => [
				id,
				{ fee: fee ?? '', every: every ?? services.find((one) => one.id === id)?.every ?? 'month' }
			])
		);
	}
	let open = $state<{ what: 'change' | 'end'; id: string } | 'new' | null>(null);
	let problem = $state('');
	let pending = $state(false);
	const isOpen = (what: 'change' | 'end', id: string) => open !== null && open !== 'new' && open.what === what && open.id === id;
	const handling = {
		onPending: (p: boolean) => (pending = p),
		onProblem: (p: { message: string; fields: Record<string, string> }) => {
			problem = p.message;
			wrong = p.fields;
		},
		close
	};
	function close() {
		open = null;
		problem = '';
	}
</script>

{#snippet form(engagement: Engagement | null)}
	<form method="post" action="/desk/clients/{clientId}?/writeEngagement" class="space-y-3 py-2" {@attach enhancedForm(handling)}>
		{#if problem}<p class="notice-wrong" role="alert">{problem}</p>{/if}
		<input type="hidden" name="engagementId" value={engagement?.id ?? ''} />
		<div class="grid gap-3 sm:grid-cols-[1fr_11rem]">
			<label class="field"
				><span>What it is</span><!-- svelte-ignore a11y_autofocus --><input
					name="name"
					value={engagement?.name ?? ''}
					autofocus
					maxlength="120"
					placeholder="Monthly books, clean-up of 2025 …"
				/></label
			>
			<label class="field"><span>Begins on</span><input type="date" name="beganOn" value={engagement?.beganOn ?? today} required /></label>
		</div>
		<fieldset>
			<legend class="field-label">Services</legend>
			{#if services.length === 0}<p class="text-sm text-(--half)">The firm has no services yet. Add them under Firm.</p>{/if}
			<ul class="text-sm">
				{#each services as service (service.id)}
					{@const fee = agreed[service.id]}
					<li class="flex min-h-8 flex-wrap items-center gap-x-3 gap-y-1">
						<label class="flex min-h-6 min-w-44 items-center gap-2"
							><input
								type="checkbox"
								name="services"
								value={service.id}
								checked={fee !== undefined}
								onchange={(event) => {
									if (event.currentTarget.checked) agreed[service.id] = { fee: '', every: service.every };
									else delete agreed[service.id];
								}}
							/>
							{service.name}</label
						>
						{#if fee}<FeeInput
								of={service.name}
								{currency}
								bind:fee={fee.fee}
								bind:every={fee.every}
								names={{ fee: `fee.${service.id}`, every: `every.${service.id}` }}
								placeholder={service.fee ?? ''}
								wrong={wrong[`fee.${service.id}`] ?? ''}
							/>{/if}
					</li>
				{/each}
			</ul>
			<p class="text-xs text-(--half)">A fee that is left empty is the usual one, if there is one under Firm.</p>
		</fieldset>
		<div class="flex gap-2">
			<button class="act" disabled={pending}>{engagement ? 'Save the engagement' : 'Add the engagement'}</button>
			<button type="button" class="act-quiet" onclick={close}>Cancel</button>
		</div>
	</form>
{/snippet}

<ul class="text-sm">
	{#each engagements as engagement (engagement.id)}
		<li class="border-b border-(--rule) py-1.5">
			<div class="flex flex-wrap items-baseline gap-x-3">
				<b class={engagement.endedOn ? 'font-normal text-(--half)' : ''}>{engagement.name}</b>
				<span class="text-(--half)">
					{engagement.endedOn
						? `${dateWords('en', engagement.beganOn, 'withYear')} to ${dateWords('en', engagement.endedOn, 'withYear')}`
						: `since ${dateWords('en', engagement.beganOn, 'withYear')}`}
				</span>
				<span class="ml-auto flex gap-3">
					{#if engagement.endedOn && mine('close_client')}
						<form method="post" action="/desk/clients/{clientId}?/endEngagement" {@attach enhancedForm(handling)}>
							<input type="hidden" name="engagementId" value={engagement.id} /><input type="hidden" name="reopen" value="yes" />
							<input type="hidden" name="reason" value="reopened" /><button class="act-link" aria-label="Reopen {engagement.name}">Reopen</button>
						</form>
					{:else if !engagement.endedOn && mine('add_client')}
						<button
							class="act-link"
							aria-expanded={isOpen('change', engagement.id)}
							aria-label="Change {engagement.name}"
							onclick={() => {
								begin(engagement);
								open = isOpen('change', engagement.id) ? null : { what: 'change', id: engagement.id };
							}}>Change …</button
						>
						<button
							class="act-link"
							aria-expanded={isOpen('end', engagement.id)}
							aria-label="End {engagement.name}"
							onclick={() => (open = isOpen('end', engagement.id) ? null : { what: 'end', id: engagement.id })}>End …</button
						>
					{/if}
				</span>
			</div>
			<p class="text-[0.83rem] text-(--half)">
				{engagement.services.map((service) => serviceWithFee(service, currency)).join(', ') || 'no services chosen yet'}
				{#if engagement.endedOn}<br />Ended by {engagement.endedBy}: “{engagement.endReason}”{/if}
			</p>
			{#if isOpen('change', engagement.id)}{@render form(engagement)}{/if}
			{#if isOpen('end', engagement.id)}
				<form method="post" action="/desk/clients/{clientId}?/endEngagement" class="space-y-2 py-2" {@attach enhancedForm(handling)}>
					{#if problem}<p class="notice-wrong" role="alert">{problem}</p>{/if}
					<input type="hidden" name="engagementId" value={engagement.id} />
					<label class="field"
						><span>Why does “{engagement.name}” end today?</span><!-- svelte-ignore a11y_autofocus --><input
							name="reason"
							maxlength="500"
							autofocus
						/></label
					>
					<div class="flex gap-2">
						<button class="act" disabled={pending}>End the engagement</button><button type="button" class="act-quiet" onclick={close}>Cancel</button>
					</div>
				</form>
			{/if}
		</li>
	{/each}
</ul>
{#if open === 'new'}{@render form(null)}
{:else if mine('add_client')}<p class="py-2 text-sm">
		<button
			class="act-link"
			onclick={() => {
				begin(null);
				open = 'new';
			}}>Add an engagement …</button
		>
	</p>{/if}
