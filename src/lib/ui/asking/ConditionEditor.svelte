<script lang="ts">
	import { FACT_NAMES, FACTS, type FactDefinition, type FactName } from '$lib/core/clients/facts';
	import { needsValue, testsOf, testWords, type Condition, type FactTest } from '$lib/core/requests/conditions';
	import Self from './ConditionEditor.svelte';

	/** For whom a line is asked: conditions about facts, services and the kind of client; groups nest. */
	let {
		condition = $bindable(),
		services,
		depth = 0,
		remove
	}: { condition: Condition; services: string[]; depth?: number; remove?: () => void } = $props();
	const DEPTH = 3;

	const KINDS = [
		['fact', 'a fact'],
		['service', 'a service'],
		['client', 'the kind of client'],
		['all', 'all of several'],
		['any', 'one of several']
	] as const;

	function fresh(kind: Condition['kind']): Condition {
		if (kind === 'service') return { kind, name: services[0] ?? '', is: 'has' };
		if (kind === 'client') return { kind, is: 'business' };
		if (kind === 'all' || kind === 'any') return { kind, of: condition.kind === 'all' || condition.kind === 'any' ? condition.of : [condition] };
		return ofFact('payroll');
	}
	function ofFact(fact: FactName): Condition {
		const is = testsOf(fact)[0];
		return { kind: 'fact', fact, is, value: startOf(fact) };
	}
	function startOf(fact: FactName): string {
		const { is }: FactDefinition = FACTS[fact];
		return is.kind === 'yes_no' ? 'yes' : is.kind === 'choice' ? Object.keys(is.choices)[0] : '';
	}
	const definition = $derived(condition.kind === 'fact' ? (FACTS[condition.fact] as FactDefinition) : null);
</script>

<div class="flex flex-wrap items-center gap-1.5">
	<select
		class="line-input !w-auto text-sm"
		aria-label="What decides"
		value={condition.kind}
		onchange={(event) => (condition = fresh(event.currentTarget.value as Condition['kind']))}
	>
		{#each KINDS as [kind, words] (kind)}{#if depth < DEPTH || (kind !== 'all' && kind !== 'any')}<option value={kind}>{words}</option>{/if}{/each}
	</select>
	{#if condition.kind === 'fact'}
		<select
			class="line-input !w-auto text-sm"
			aria-label="Fact"
			value={condition.fact}
			onchange={(event) => (condition = ofFact(event.currentTarget.value as FactName))}
		>
			{#each FACT_NAMES as name (name)}<option value={name}>{FACTS[name].label}</option>{/each}
		</select>
		<select
			class="line-input !w-auto text-sm"
			aria-label="How it is compared"
			value={condition.is}
			onchange={(event) => condition.kind === 'fact' && (condition = { ...condition, is: event.currentTarget.value as FactTest })}
		>
			{#each testsOf(condition.fact) as test (test)}<option value={test}>{testWords(test)}</option>{/each}
		</select>
		{#if needsValue(condition.is) && definition}
			{#if definition.is.kind === 'yes_no' || definition.is.kind === 'choice'}
				<select class="line-input !w-auto text-sm" aria-label="Value" bind:value={condition.value}>
					{#each definition.is.kind === 'choice' ? Object.entries(definition.is.choices) : [['yes', 'yes'], ['no', 'no']] as [value, words] (value)}<option
							{value}>{words}</option
						>{/each}
				</select>
			{:else}
				<input
					class="line-input !w-40 text-sm"
					aria-label="Value"
					bind:value={condition.value}
					type={definition.is.kind === 'date' ? 'date' : 'text'}
					inputmode={definition.is.kind === 'count' ? 'numeric' : undefined}
					placeholder={definition.is.kind === 'day_of_year' ? 'MM-DD' : ''}
				/>
			{/if}
		{/if}
	{:else if condition.kind === 'service'}
		<select class="line-input !w-auto text-sm" aria-label="Whether we do it" bind:value={condition.is}
			><option value="has">we do</option><option value="has_not">we do not do</option></select
		>
		<select class="line-input !w-auto text-sm" aria-label="Service" bind:value={condition.name}>
			{#each [...new Set([...services, condition.name])] as name (name)}<option value={name}>{name}</option>{/each}
		</select>
	{:else if condition.kind === 'client'}
		<select class="line-input !w-auto text-sm" aria-label="Kind of client" bind:value={condition.is}
			><option value="business">is a business</option><option value="person">is a person</option></select
		>
	{/if}
	{#if remove}<button type="button" class="act-link text-sm" onclick={remove}>Remove</button>{/if}
</div>
{#if condition.kind === 'all' || condition.kind === 'any'}
	<ul class="mt-1.5 space-y-1.5 border-l-2 border-(--rule-strong) pl-3">
		{#each condition.of as _, i (i)}
			<li>
				<Self
					bind:condition={condition.of[i]}
					{services}
					depth={depth + 1}
					remove={condition.of.length > 1
						? () => {
								if (condition.kind === 'all' || condition.kind === 'any') condition.of.splice(i, 1);
							}
						: undefined}
				/>
			</li>
		{/each}
		<li>
			<button
				type="button"
				class="act-link text-sm"
				onclick={() => {
					if (condition.kind === 'all' || condition.kind === 'any') condition.of.push(ofFact('sales_tax'));
				}}>{condition.kind === 'all' ? 'and another one' : 'or another one'}</button
			>
		</li>
	</ul>
{/if}
