<script lang="ts">
	import { untrack } from 'svelte';
	import type { FactKind } from '$lib/core/facts/fact-definition';
	import { factKeys } from '$lib/core/facts/fact-words';
	import FactInput from './FactInput.svelte';
	import FactTable from './FactTable.svelte';

	/** The words of the fields beside the firm's own: those of the desk unless others are given. */
	const DESK = { yes: 'yes', no: 'no', day: 'day', month: 'month', row: 'row', addRow: 'Add a row', removeRow: 'Remove' };

	/** The field in which one fact is written down, by what kind of fact it is; sent as `value`. */
	let {
		is,
		value,
		label,
		hint = '',
		choice = () => null,
		locale = 'en',
		words = DESK,
		wrong = false
	}: {
		is: FactKind;
		value: string;
		label: string;
		hint?: string;
		/** a choice in the reader's words, where they differ from the firm's */ choice?: (key: string) => string | null;
		locale?: string;
		words?: typeof DESK;
		wrong?: boolean;
	} = $props();
	const id = $props.id();
	// what stands in the field is the person's from here on, whatever is read anew around it
	let current = $state(untrack(() => value));
	let chosen = $state(untrack(() => (is.kind === 'several' ? factKeys(value) : [])));
	const common = $derived({ yesNo: words, locale, words });
	const unit = $derived(is.kind === 'money' ? is.currency : is.kind === 'number' ? is.unit : '');
</script>

{#if is.kind === 'several'}
	<fieldset class="min-w-40 flex-1">
		<legend class="field-label">{label}</legend>
		<div class="flex flex-wrap gap-x-4 gap-y-1">
			{#each is.choices as one (one.key)}<label class="flex min-h-7 items-center gap-2 text-sm"
					><input type="checkbox" name="value" value={one.key} bind:group={chosen} /> {choice(one.key) ?? one.words}</label
				>{/each}
		</div>
	</fieldset>
{:else if is.kind === 'table'}
	<FactTable {is} name="value" {value} {label} {locale} {words} {wrong} focus />
{:else}
	<div class="field min-w-40 flex-1" class:!w-full={is.kind === 'lines' || is.kind === 'address'}>
		<label class="field-label" for={id}>{label}{unit ? ` (${unit})` : ''}</label>
		<FactInput {id} {is} name="value" bind:value={current} {choice} {...common} {wrong} focus />
	</div>
{/if}
{#if hint}<p class="w-full text-[0.84rem] text-(--half)">{hint}</p>{/if}
