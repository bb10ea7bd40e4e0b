<script lang="ts">
	import { SLOT_TYPES } from '$lib/core/items/slots';
	import type { SpecProps } from '../spec';

	let { line = $bindable() }: SpecProps<'paper'> = $props();
	const paper = $derived(line.spec);
</script>

<label class="field mb-3 max-w-xs"
	><span>Statements of accounts</span><select bind:value={paper.statementsOf}>
		<option value="none">no, one paper</option>
		<option value="bank">one line for each bank account</option>
		<option value="card">one line for each card</option>
		<option value="loan">one line for each loan</option>
		<option value="payment">one line for each payment service</option>
		<option value="all">one line for each account</option>
	</select></label
>
<fieldset>
	<legend class="field-label">Named files, where it matters which one is which</legend>
	<ul class="space-y-1.5">
		{#each paper.slots as slot, i (i)}<li class="flex flex-wrap gap-2">
				<input class="line-input !w-60" bind:value={slot.name} maxlength="80" aria-label="Name of file {i + 1}" placeholder="Front side" />
				<select class="line-input !w-auto" bind:value={slot.accepts} aria-label="What file {i + 1} may be"
					>{#each Object.entries(SLOT_TYPES) as [type, words] (type)}<option value={type}>{words}</option>{/each}</select
				>
				<button type="button" class="act-link text-sm" onclick={() => paper.slots.splice(i, 1)}>Remove</button>
			</li>{/each}
	</ul>
	<button type="button" class="act-link text-sm" onclick={() => paper.slots.push({ name: '', accepts: 'any' })}>Add a named file</button>
</fieldset>
