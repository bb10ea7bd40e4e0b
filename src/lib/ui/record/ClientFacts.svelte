<script lang="ts">
	import { FACTS, FACT_NAMES, inOrder, type FactDefinition, type FactName } from '$lib/core/clients/facts';
	import FactField from './FactField.svelte';
	import { enhancedForm } from '../forms/enhanced-form';

	interface Fact {
		name: string;
		value: string;
		words: string;
		said: string;
		earlier: string[];
	}
	let { clientId, facts, mayChange }: { clientId: string; facts: Fact[]; mayChange: boolean } = $props();
	let open = $state<FactName | null>(null);
	let problem = $state('');
	let pending = $state(false);
	const known = $derived(inOrder(facts));
	const unknown = $derived(FACT_NAMES.filter((name) => !facts.some((fact) => fact.name === name)));

	function begin(name: FactName) {
		problem = '';
		open = open === name ? null : name;
	}
</script>

{#snippet form(name: FactName)}
	{@const definition = FACTS[name] as FactDefinition}
	{@const value = facts.find((fact) => fact.name === name)?.value ?? ''}
	<form
		method="post"
		action="/desk/clients/{clientId}?/sayFact"
		class="flex flex-wrap items-end gap-2 py-2"
		{@attach enhancedForm({
			onPending: (p) => (pending = p),
			onProblem: (p) => (problem = p.message),
			close: () => (open = null)
		})}
	>
		{#if problem}<p class="notice-wrong w-full" role="alert">{problem}</p>{/if}
		<input type="hidden" name="name" value={name} />
		<FactField
			{name}
			{value}
			label={definition.hint ? `${definition.label}, ${definition.hint}` : definition.label}
			choice={(key) => (definition.is.kind === 'choice' ? definition.is.choices[key] : key)}
		/>
		<button class="act" disabled={pending}>{value ? 'Save the correction' : 'Add it'}</button>
		<button type="button" class="act-quiet" onclick={() => (open = null)}>Cancel</button>
	</form>
{/snippet}

<ul class="text-sm">
	{#each known as fact (fact.name)}
		<li class="border-b border-(--rule) py-1.5">
			<div class="grid grid-cols-[9.5rem_minmax(0,1fr)_auto] items-baseline gap-3">
				<span class="text-(--half)">{FACTS[fact.name].label}</span>
				<span class="min-w-0">
					<span class="font-semibold break-words whitespace-pre-line">{fact.words}</span>
					<span class="ml-1.5 text-[0.8rem] text-(--half)">{fact.said}</span>
					{#if fact.earlier.length > 0}<span class="block text-[0.8rem] text-(--half)">before: {fact.earlier.join('; ')}</span>{/if}
				</span>
				<span>
					{#if mayChange}<button
							class="act-link"
							aria-expanded={open === fact.name}
							aria-label="Correct {FACTS[fact.name].label}"
							onclick={() => begin(fact.name)}>Correct</button
						>{/if}
				</span>
			</div>
			{#if open === fact.name}{@render form(fact.name)}{/if}
		</li>
	{/each}
</ul>
{#if unknown.length > 0}
	<p class="py-2 text-sm text-(--half)">
		Not known yet:
		{#each unknown as name, i (name)}{#if mayChange}<button class="act-link" aria-expanded={open === name} onclick={() => begin(name)}
					>{FACTS[name].label}</button
				>{:else}{FACTS[name].label}{/if}{i < unknown.length - 1 ? ', ' : ''}{/each}
	</p>
	{#if open && unknown.includes(open)}{@render form(open)}{/if}
{/if}
