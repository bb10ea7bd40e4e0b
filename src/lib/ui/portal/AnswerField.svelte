<script lang="ts">
	import { untrack } from 'svelte';
	import { exactly, type Answer } from '$lib/core/items/answers';
	import { fromMinor, minorDecimals } from '$lib/core/items/minor-units';
	import { acceptOf } from '$lib/core/items/slots';
	import type { AnswerKind, AnswerSpec } from '$lib/core/items/questions';
	import type { TypedValue } from '$lib/core/requests/typed';
	import FactInput from '../record/FactInput.svelte';
	import FactTable from '../record/FactTable.svelte';
	import { fieldWords } from '$lib/words/fact-labels';
	import { typedNumber } from '$lib/words/answers';
	import { sayer } from '$lib/words/words';

	/** The field in which one question is answered, by how it is answered. */
	let {
		spec,
		name,
		label,
		value = null,
		words: given = '',
		typed,
		locale,
		required,
		wrong
	}: {
		spec: AnswerSpec;
		name: string;
		label: string;
		/** what was answered before */ value?: Answer | null;
		/** what was typed before, for an answer in words */ words?: string;
		/** what was typed and not sent; an emptied field stays empty */ typed?: TypedValue;
		locale: string;
		required: boolean;
		wrong?: string;
	} = $props();
	const say = $derived(sayer(locale));
	const id = $props.id();
	const described = $derived(wrong ? `${id}-wrong` : undefined);
	const TYPES: Partial<Record<AnswerKind, string>> = { date: 'date', email: 'email', phone: 'tel' };
	const MODES: Partial<Record<AnswerKind, 'decimal' | 'url'>> = { number: 'decimal', money: 'decimal', web: 'url' };
	const words = $derived(fieldWords(locale));
	const before = (): string =>
		spec.is === 'money' && typeof value === 'number'
			? typedNumber(locale, fromMinor(value, spec.currency), exactly(minorDecimals(spec.currency)))
			: spec.is === 'number' && typeof value === 'number'
				? typedNumber(locale, value, { least: 0, most: 6 })
				: spec.is === 'yes_no' && typeof value === 'boolean'
					? value
						? 'yes'
						: 'no'
					: value !== null && typeof value === 'object' && spec.is === 'table'
						? JSON.stringify(value)
						: value === null || typeof value === 'object'
							? given
							: String(value);
	/** one may write another choice: what was written, where it is none of those offered */
	const other = $derived((spec.is === 'one_of' || spec.is === 'several_of') && spec.other === true);
	const choices = $derived(spec.is === 'one_of' || spec.is === 'several_of' ? spec.choices : []);
	function writtenOf(all: readonly (string | undefined)[]): string {
		return all.find((one) => one !== undefined && one !== '' && !choices.includes(one)) ?? '';
	}
	// what stands in the field is the person's from here on, whatever is read anew around it
	let current = $state(untrack(() => (typed === undefined ? before() : Array.isArray(typed) ? (typed[0] ?? '') : typed)));
	let written = $state(
		untrack(() =>
			other
				? writtenOf(typed === undefined ? (Array.isArray(value) ? value.map(String) : [value === null ? '' : String(value)]) : [typed].flat())
				: ''
		)
	);
	untrack(() => {
		// of several that were typed, the one that is ticked
		if (spec.is === 'one_of' && other)
			current = (Array.isArray(typed) ? typed.find((one) => choices.includes(one)) : choices.includes(current) ? current : '') ?? '';
	});
	let several = $state(
		untrack(() =>
			typed === undefined ? (Array.isArray(value) ? value.filter((one) => typeof one === 'string') : []) : Array.isArray(typed) ? typed : [typed]
		)
	);
</script>

{#if spec.is === 'file'}
	<label class="field"><span>{label}</span><input type="file" {name} multiple accept={acceptOf(spec.accepts)} /></label>
{:else if spec.is === 'table'}
	<FactTable is={{ kind: 'table', columns: spec.columns }} {name} value={String(current)} {label} {locale} {words} wrong={wrong !== undefined} />
{:else if spec.is === 'day_of_year'}
	<div class="field">
		<span>{label}</span>
		<FactInput is={{ kind: 'day_of_year' }} {name} bind:value={current} yesNo={words} {locale} {words} wrong={wrong !== undefined} />
	</div>
{:else if spec.is === 'words' || spec.is === 'address'}
	<label class="field"
		><span>{label}</span><textarea
			{name}
			rows="4"
			maxlength={spec.is === 'address' ? 300 : 10_000}
			{required}
			bind:value={current}
			aria-invalid={wrong ? 'true' : undefined}
			aria-describedby={described}></textarea></label
	>
{:else if spec.is === 'yes_no' || spec.is === 'one_of' || spec.is === 'several_of'}
	<fieldset aria-describedby={described}>
		<legend class="field-label !text-[0.92rem]">{label}</legend>
		<div class="choices">
			{#each spec.is === 'yes_no' ? [['yes', say('item.yes')], ['no', say('item.no')]] : spec.choices.map( (choice) => [choice, choice] ) as [choice, shown] (choice)}
				<label
					>{#if spec.is === 'several_of'}<input type="checkbox" {name} value={choice} bind:group={several} />{:else}<input
							type="radio"
							{name}
							value={choice}
							bind:group={current}
							required={required && !other}
							onchange={() => (written = '')}
						/>{/if}
					<span>{shown}</span></label
				>
			{/each}
			{#if other}<label class="written"
					><span>{say('item.questionnaire.other')}</span><input
						type="text"
						class="line-input"
						{name}
						maxlength="120"
						bind:value={written}
						oninput={() => {
							// of one choice only, what is written is the choice
							if (spec.is === 'one_of' && written.trim() !== '') current = '';
						}}
					/></label
				>{/if}
		</div>
	</fieldset>
{:else}
	<label class="field"
		><span
			>{label}{#if spec.is === 'money'}&nbsp;({say('item.amount', {
					currency: spec.currency
				})}){:else if spec.is === 'number' && spec.unit}&nbsp;({spec.unit}){/if}</span
		><input
			{name}
			type={TYPES[spec.is] ?? 'text'}
			inputmode={MODES[spec.is]}
			maxlength="300"
			autocomplete="off"
			bind:value={current}
			{required}
			aria-invalid={wrong ? 'true' : undefined}
			aria-describedby={described}
		/></label
	>
{/if}
{#if wrong}<p id="{id}-wrong" class="field-problem">{wrong}</p>{/if}

<style>
	.choices {
		display: flex;
		flex-wrap: wrap;
		gap: 0.5rem;
	}
	/* of a long questionnaire there are hundreds: what stands inside carries no class of its own */
	.choices :global(label) {
		display: flex;
		align-items: center;
		gap: 0.6rem;
		min-height: 46px;
		padding: 0.4rem 0.9rem;
		border: 1px solid var(--rule-strong);
		border-radius: 6px;
		background: #fffefb;
		cursor: pointer;
	}
	.choices :global(label:has(:checked)) {
		border-color: var(--act);
		box-shadow: inset 0 0 0 1px var(--act);
	}
	.choices :global(label:has(:focus-visible)) {
		outline: 3px solid var(--ink);
		outline-offset: 2px;
	}
	.choices :global(.written input) {
		width: 12rem;
		height: auto;
	}
	.choices :global(input) {
		accent-color: var(--act);
		width: 1.1rem;
		height: 1.1rem;
	}
</style>
