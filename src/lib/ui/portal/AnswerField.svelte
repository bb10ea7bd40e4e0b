<script lang="ts">
	import type { Answer, AnswerSpec } from '$lib/core/requests/item-kinds';
	import { sayer } from '$lib/words/words';

	/** The field in which one question is answered, by how it is answered. */
	let {
		spec,
		name,
		label,
		value = null,
		words = '',
		locale,
		required,
		wrong,
		oninput
	}: {
		spec: AnswerSpec;
		name: string;
		label: string;
		/** what was answered before */ value?: Answer | null;
		/** what was typed before, for an answer in words */ words?: string;
		locale: string;
		required: boolean;
		wrong?: string;
		oninput?: () => void;
	} = $props();
	const say = $derived(sayer(locale));
	const id = $props.id();
	const described = $derived(wrong ? `${id}-wrong` : undefined);
	const typed = $derived(
		spec.is === 'money' && typeof value === 'number'
			? (value / 100).toFixed(2)
			: value === null || typeof value === 'object' || typeof value === 'boolean'
				? ''
				: String(value)
	);
</script>

{#if spec.is === 'words'}
	<label class="field"
		><span>{label}</span><textarea
			{name}
			rows="4"
			maxlength="10000"
			{required}
			{oninput}
			aria-invalid={wrong ? 'true' : undefined}
			aria-describedby={described}>{typed || words}</textarea
		></label
	>
{:else if spec.is === 'yes_no' || spec.is === 'one_of' || spec.is === 'several_of'}
	<fieldset aria-describedby={described}>
		<legend class="field-label !text-[0.92rem]">{label}</legend>
		<div class="choices">
			{#each spec.is === 'yes_no' ? [['yes', say('item.yes')], ['no', say('item.no')]] : spec.choices.map( (choice) => [choice, choice] ) as [choice, shown] (choice)}
				<label
					><input
						type={spec.is === 'several_of' ? 'checkbox' : 'radio'}
						{name}
						value={choice}
						checked={spec.is === 'yes_no' ? value === (choice === 'yes') : Array.isArray(value) ? value.includes(choice) : value === choice}
						required={required && spec.is !== 'several_of'}
						onchange={oninput}
					/>
					<span>{shown}</span></label
				>
			{/each}
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
			type={spec.is === 'date' ? 'date' : 'text'}
			inputmode={spec.is === 'date' ? undefined : 'decimal'}
			autocomplete="off"
			value={typed}
			{required}
			{oninput}
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
	.choices label {
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
	.choices label:has(:checked) {
		border-color: var(--act);
		box-shadow: inset 0 0 0 1px var(--act);
	}
	.choices label:has(:focus-visible) {
		outline: 3px solid var(--ink);
		outline-offset: 2px;
	}
	.choices input {
		accent-color: var(--act);
		width: 1.1rem;
		height: 1.1rem;
	}
</style>
