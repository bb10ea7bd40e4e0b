<script lang="ts">
	import { dueRuleInWords, type DueRule } from '$lib/core/schedules/due-rule';

	/** When a line of a list falls due. */
	let { due = $bindable() }: { due: DueRule } = $props();
	let side = $state(due.offset < 0 ? 'before' : 'after');
	const days = $derived(Math.abs(due.offset));
	const set = (n: number) => (due.offset = side === 'before' && due.from === 'period_end' ? -n : n);
</script>

<fieldset>
	<legend class="field-label">Due {dueRuleInWords(due)}</legend>
	<div class="flex flex-wrap items-center gap-1.5 text-sm">
		<input
			type="number"
			class="line-input !w-16"
			min="0"
			max="400"
			aria-label="How many days"
			value={days}
			oninput={(event) => set(Math.abs(event.currentTarget.valueAsNumber || 0))}
		/>
		<select class="line-input !w-auto" aria-label="Days or business days" bind:value={due.unit}
			><option value="business_days">business days</option><option value="days">days</option></select
		>
		{#if due.from === 'period_end'}<select class="line-input !w-auto" aria-label="Before or after" bind:value={side} onchange={() => set(days)}
				><option value="after">after</option><option value="before">before</option></select
			>{:else}<span>after</span>{/if}
		<select
			class="line-input !w-auto"
			aria-label="Counted from"
			bind:value={due.from}
			onchange={() => {
				if (due.from === 'asked') side = 'after';
				set(days);
			}}><option value="asked">it is asked</option><option value="period_end">the end of the period</option></select
		>
		<select class="line-input !w-auto" aria-label="If that is no business day" bind:value={due.roll}>
			<option value="none">as it falls</option>
			<option value="following">or the next business day</option>
			<option value="preceding">or the business day before</option>
			<option value="modified">or the next business day in the month</option>
		</select>
	</div>
</fieldset>
