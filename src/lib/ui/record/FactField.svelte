<script lang="ts">
	import { untrack } from 'svelte';
	import { FACTS, type FactDefinition, type FactName } from '$lib/core/clients/facts';
	import { dateWords } from '$lib/words/dates';

	/** The field in which one fact is written down, by what kind of fact it is. */
	let {
		name,
		value,
		label,
		choice,
		locale = 'en',
		words = { day: 'day', month: 'month' }
	}: {
		name: FactName;
		value: string;
		label: string;
		/** a choice in the reader's words */ choice: (key: string) => string;
		locale?: string;
		words?: { day: string; month: string };
	} = $props();
	const is = $derived((FACTS[name] as FactDefinition).is);
	const [firstMonth, firstDay] = untrack(() => (is.kind === 'day_of_year' && value ? value.split('-') : ['12', '31']));
	let day = $state(firstDay);
	let month = $state(firstMonth);
	const two = (n: number) => String(n).padStart(2, '0');
</script>

{#if is.kind === 'yes_no' || is.kind === 'choice'}
	<label class="field min-w-40 flex-1"
		><span>{label}</span><select name="value" {value}>
			{#each is.kind === 'choice' ? Object.keys(is.choices) : ['yes', 'no'] as key (key)}<option value={key} selected={key === value}
					>{choice(key)}</option
				>{/each}
		</select></label
	>
{:else if is.kind === 'lines'}
	<label class="field w-full"><span>{label}</span><textarea name="value" rows="3" maxlength={is.max}>{value}</textarea></label>
{:else if is.kind === 'day_of_year'}
	<input type="hidden" name="value" value="{month}-{day}" />
	<label class="field"
		><span>{label}: {words.day}</span><select bind:value={day}>
			{#each Array.from({ length: 31 }, (_, i) => two(i + 1)) as d (d)}<option value={d}>{Number(d)}</option>{/each}
		</select></label
	>
	<label class="field"
		><span>{words.month}</span><select bind:value={month}>
			{#each Array.from({ length: 12 }, (_, i) => two(i + 1)) as m (m)}<option value={m}>{dateWords(locale, `2024-${m}-01`, 'month')}</option>{/each}
		</select></label
	>
{:else}
	<label class="field min-w-40 flex-1"
		><span>{label}</span><!-- svelte-ignore a11y_autofocus --><input
			name="value"
			{value}
			autofocus
			type={is.kind === 'date' ? 'date' : is.kind === 'count' ? 'number' : 'text'}
			min="0"
		/></label
	>
{/if}
