<script lang="ts">
	import { type FactForm } from '$lib/core/facts/fact-form';
	import { CLIENT_MAY, FACT_KIND_NAMES, FACT_KIND_WORDS, SEEN_BY, type FactKind, type FactKindName } from '$lib/core/facts/fact-definition';
	import { choicesOfText } from '$lib/core/facts/guess-kind';
	import ColumnsFields from './ColumnsFields.svelte';
	import FieldProblem from '../forms/FieldProblem.svelte';

	/** What a fact is called, how it is written down, and who may see it. */
	let {
		form = $bindable(),
		headings,
		currency,
		checks,
		fixed,
		fields
	}: {
		form: FactForm;
		headings: readonly string[];
		currency: string;
		/** checks of tax numbers, by their keys */ checks: Readonly<Record<string, string>>;
		/** ships with the product: its kind stays */ fixed: boolean;
		/** what was wrong, by field */ fields: Readonly<Record<string, string>>;
	} = $props();
	const id = $props.id();

	function kindOf(kind: FactKindName): FactKind {
		const before = 'choices' in form.is ? form.is.choices : [];
		switch (kind) {
			case 'words':
				return { kind, max: 200 };
			case 'lines':
				return { kind, max: 4000 };
			case 'number':
				return { kind, unit: '', whole: true };
			case 'money':
				return { kind, currency };
			case 'choice':
			case 'several':
				return { kind, choices: before };
			case 'tax_number':
				return { kind, check: '' };
			case 'table':
				return { kind, columns: [{ key: 'name', label: 'Name', is: { kind: 'words', max: 200 } }] };
			default:
				return { kind };
		}
	}
	const text = $derived('choices' in form.is ? form.is.choices.map(({ words }) => words).join('\n') : '');
	const columnsWrong = $derived(Object.entries(fields).find(([field]) => field.startsWith('is'))?.[1]);
</script>

<div class="grid max-w-3xl gap-x-4 gap-y-3 sm:grid-cols-2">
	<div class="field">
		<label class="field-label" for="{id}-label">What it is called</label>
		<input
			id="{id}-label"
			bind:value={form.label}
			maxlength="60"
			aria-invalid={fields.label ? 'true' : undefined}
			aria-describedby="{id}-label-wrong"
		/>
		<FieldProblem id="{id}-label-wrong" message={fields.label} />
	</div>
	<label class="field"><span>Under the heading</span><input bind:value={form.heading} maxlength="60" list="{id}-headings" /></label>
	<datalist id="{id}-headings"
		>{#each headings as heading (heading)}<option value={heading}></option>{/each}</datalist
	>
	<div class="field">
		<label class="field-label" for="{id}-kind">Written down as</label>
		<select
			id="{id}-kind"
			value={form.is.kind}
			disabled={fixed}
			onchange={(event) => (form.is = kindOf(event.currentTarget.value as FactKindName))}
			aria-describedby="{id}-about"
		>
			{#each FACT_KIND_NAMES as kind (kind)}<option value={kind}>{FACT_KIND_WORDS[kind].words}</option>{/each}
		</select>
		<p id="{id}-about" class="mt-1 text-[0.8rem] text-(--half)">
			{fixed ? 'This fact ships with the product, which reads it in this way.' : FACT_KIND_WORDS[form.is.kind].about}
		</p>
	</div>
	{#if form.is.kind === 'number'}
		{@const is = form.is}
		<div class="flex flex-wrap items-end gap-3">
			<label class="field w-40"
				><span>Unit, if it has one</span><input
					value={is.unit}
					oninput={(e) => (form.is = { ...is, unit: e.currentTarget.value })}
					maxlength="30"
				/></label
			>
			<label class="flex min-h-9 items-center gap-2 text-sm"
				><input type="checkbox" checked={is.whole} onchange={(e) => (form.is = { ...is, whole: e.currentTarget.checked })} /> whole numbers only</label
			>
		</div>
	{:else if form.is.kind === 'money'}
		<label class="field"
			><span>Currency</span><input
				value={form.is.currency}
				oninput={(e) => (form.is = { kind: 'money', currency: e.currentTarget.value.toUpperCase() })}
				maxlength="3"
				aria-invalid={columnsWrong ? 'true' : undefined}
			/></label
		>
	{:else if form.is.kind === 'choice' || form.is.kind === 'several'}
		{@const is = form.is}
		<label class="field"
			><span>Choices, one a line</span><textarea
				rows={Math.max(4, is.choices.length + 1)}
				value={text}
				onchange={(e) => (form.is = { ...is, choices: choicesOfText(e.currentTarget.value, is.choices) })}
				aria-invalid={columnsWrong ? 'true' : undefined}></textarea></label
		>
	{:else if form.is.kind === 'tax_number'}
		<label class="field"
			><span>Checked as</span><select value={form.is.check} onchange={(e) => (form.is = { kind: 'tax_number', check: e.currentTarget.value })}>
				<option value="">not checked</option>
				{#each Object.entries(checks) as [key, words] (key)}<option value={key}>{words}</option>{/each}
			</select></label
		>
	{:else}<span></span>{/if}
	{#if form.is.kind === 'table'}
		<div class="sm:col-span-2">
			<ColumnsFields
				bind:columns={() => (form.is.kind === 'table' ? form.is.columns : []), (columns) => (form.is = { kind: 'table', columns })}
				{currency}
			/>
		</div>
	{/if}
	{#if columnsWrong}<p class="field-problem sm:col-span-2">{columnsWrong}</p>{/if}
	<label class="field sm:col-span-2"
		><span>What it is needed for, or how it is to be written</span><input bind:value={form.hint} maxlength="300" /></label
	>
	<label class="field"
		><span>In the firm it is seen by</span><select bind:value={form.seenBy}>
			{#each Object.entries(SEEN_BY) as [key, { words }] (key)}<option value={key}>{words}</option>{/each}
		</select></label
	>
	<label class="field"
		><span>Clients may</span><select bind:value={form.clientMay}>
			{#each Object.entries(CLIENT_MAY) as [key, words] (key)}<option value={key}>{words}</option>{/each}
		</select></label
	>
	<label class="flex min-h-9 items-center gap-2 text-sm"
		><input type="checkbox" bind:checked={form.secret} /> kept secret: shown on asking, in no list, letter or file</label
	>
	<label class="flex flex-wrap items-center gap-2 text-sm"
		>to be confirmed after
		<input
			type="number"
			class="line-input !w-20"
			min="1"
			max="120"
			placeholder="never"
			value={form.confirmAfter ?? ''}
			oninput={(e) => (form.confirmAfter = e.currentTarget.value === '' ? null : Number(e.currentTarget.value))}
		/> months</label
	>
</div>
