<script lang="ts">
	import { FACT_KIND_WORDS, type FactColumn, type FactColumnKind } from '$lib/core/facts/fact-definition';
	import { keyOf } from '$lib/core/facts/guess-kind';

	/** The columns of a table: what each is called, and how its cells are written down. */
	let { columns = $bindable(), currency }: { columns: readonly FactColumn[]; currency: string } = $props();
	/** Kinds of which a column can be without further words. */
	const KINDS = ['words', 'number', 'money', 'date', 'day_of_year', 'yes_no', 'email', 'phone'] as const;
	const kinds = (now: FactColumnKind) => (KINDS.some((kind) => kind === now.kind) ? KINDS : ([...KINDS, now.kind] as const));
	const fresh = (kind: string): FactColumnKind =>
		kind === 'words'
			? { kind, max: 200 }
			: kind === 'number'
				? { kind, unit: '', whole: false }
				: kind === 'money'
					? { kind, currency }
					: ({ kind } as FactColumnKind);
	const change = (at: number, more: Partial<FactColumn>) => (columns = columns.map((column, i) => (i === at ? { ...column, ...more } : column)));
</script>

<fieldset>
	<legend class="field-label">Columns</legend>
	<ol class="space-y-2">
		{#each columns as column, i (column.key)}
			<li class="flex flex-wrap items-end gap-2 border-l-2 border-(--rule-strong) pl-3">
				<label class="field flex-1"
					><span class="sr">Name of column {i + 1}</span><input
						value={column.label}
						maxlength="60"
						oninput={(event) => change(i, { label: event.currentTarget.value })}
					/></label
				>
				<label class="field"
					><span class="sr">Column {i + 1} is written down as</span><select
						value={column.is.kind}
						onchange={(event) => change(i, { is: fresh(event.currentTarget.value) })}
					>
						{#each kinds(column.is) as kind (kind)}<option value={kind}>{FACT_KIND_WORDS[kind].words}</option>{/each}
					</select></label
				>
				<button
					type="button"
					class="act-link min-h-9 text-sm"
					disabled={columns.length === 1}
					aria-label="Remove column {column.label}"
					onclick={() => (columns = columns.filter((_, n) => n !== i))}>Remove</button
				>
			</li>
		{/each}
	</ol>
	<button
		type="button"
		class="act-link mt-2 text-sm"
		onclick={() =>
			(columns = [
				...columns,
				{
					key: keyOf(
						`column ${columns.length + 1}`,
						columns.map(({ key }) => key)
					),
					label: '',
					is: { kind: 'words', max: 200 }
				}
			])}>Add a column</button
	>
</fieldset>
