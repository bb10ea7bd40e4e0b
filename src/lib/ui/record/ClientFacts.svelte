<script lang="ts">
	import { invalidateAll } from '$app/navigation';
	import type { FactDefinition } from '$lib/core/facts/fact-definition';
	import { askDesk } from '../desk/ask-desk';
	import { enhancedForm } from '../forms/enhanced-form';
	import FactField from './FactField.svelte';

	interface Fact {
		name: string;
		value: string;
		words: string;
		said: string;
		paper: { id: string; name: string } | null;
		confirmed: string | null;
		toConfirm: boolean;
		earlier: string[];
	}
	let {
		clientId,
		facts,
		definitions,
		papers,
		mayChange
	}: {
		clientId: string;
		facts: Fact[];
		definitions: readonly FactDefinition[];
		/** those of the client, newest first */ papers: readonly { id: string; name: string }[];
		mayChange: boolean;
	} = $props();
	let open = $state<string | null>(null);
	let problem = $state('');
	let pending = $state(false);
	/** what is kept secret and was asked to be seen, while the page is open */
	let shown = $state<Record<string, string>>({});
	const known = $derived(
		definitions.flatMap((definition) => {
			const fact = facts.find(({ name }) => name === definition.name);
			return fact ? [{ ...fact, definition }] : [];
		})
	);
	const headings = $derived([...new Set(known.map(({ definition }) => definition.heading))]);
	const unknown = $derived(definitions.filter(({ name, retired }) => !retired && !facts.some((fact) => fact.name === name)));
	const here = $derived(`/desk/clients/${clientId}`);

	function begin(name: string) {
		problem = '';
		open = open === name ? null : name;
	}
	async function show(name: string) {
		const answer = await askDesk<{ shown: string }>(`${here}?/showFact`, { name });
		if (answer) shown[name] = answer.shown;
		else problem = 'It could not be shown. Load the page again.';
	}
	async function stillRight(name: string) {
		pending = true;
		const answer = await askDesk(`${here}?/confirmFact`, { name });
		pending = false;
		if (!answer) problem = 'This was not kept. Load the page again.';
		await invalidateAll();
	}
</script>

{#snippet form(definition: FactDefinition, value: string, isKnown: boolean)}
	<form
		method="post"
		action="{here}?/sayFact"
		class="flex flex-wrap items-end gap-2 py-2"
		{@attach enhancedForm({
			onPending: (p) => (pending = p),
			onProblem: (p) => (problem = p.fields.value ?? p.message),
			close: () => {
				open = null;
				delete shown[definition.name];
			}
		})}
	>
		{#if problem}<p class="notice-wrong w-full" role="alert">{problem}</p>{/if}
		<input type="hidden" name="name" value={definition.name} />
		<FactField is={definition.is} {value} label={definition.label} hint={definition.hint} wrong={problem !== ''} />
		{#if papers.length > 0}<label class="field"
				><span>Read from</span><select name="paperId" class="max-w-56">
					<option value="">no paper</option>
					{#each papers as paper (paper.id)}<option value={paper.id}>{paper.name}</option>{/each}
				</select></label
			>{/if}
		<button class="act" disabled={pending}>{isKnown ? 'Save the correction' : 'Add it'}</button>
		<button type="button" class="act-quiet" onclick={() => (open = null)}>Cancel</button>
	</form>
{/snippet}

{#each headings as heading (heading)}
	{#if headings.length > 1}<h3 class="mt-2 text-[0.84rem] font-semibold text-(--half)">{heading}</h3>{/if}
	<ul class="text-sm">
		{#each known.filter(({ definition }) => definition.heading === heading) as fact (fact.name)}
			{@const { definition } = fact}
			{@const hidden = definition.secret && shown[fact.name] === undefined}
			<li class="border-b border-(--rule) py-1.5">
				<div class="grid grid-cols-[9.5rem_minmax(0,1fr)_auto] items-baseline gap-3">
					<span class="text-(--half)"
						>{definition.label}{#if definition.retired}<span class="block text-[0.8rem]">no longer asked</span>{/if}</span
					>
					<span class="min-w-0">
						{#if hidden}<button class="act-link" aria-label="Show {definition.label}" onclick={() => show(fact.name)}>Show</button>
							<span class="ml-1 text-[0.8rem] text-(--half)">kept secret; the history says who looked ·</span>
						{:else}<span class="font-semibold break-words whitespace-pre-line">{definition.secret ? shown[fact.name] : fact.words}</span>{/if}
						<span class="ml-1.5 text-[0.8rem] text-(--half)"
							>{fact.said}{#if fact.paper}, read from <a class="act-link" href="/desk/papers/{fact.paper.id}" target="_blank" rel="noopener"
									>{fact.paper.name}</a
								>{/if}</span
						>
						{#if fact.confirmed}<span class="block text-[0.8rem] text-(--half)">still right, said {fact.confirmed}</span>{/if}
						{#if fact.toConfirm}<span class="block text-[0.8rem] text-(--lamp-deep)"
								>to be confirmed
								{#if mayChange}<button
										class="act-link ml-1"
										disabled={pending}
										aria-label="{definition.label} is still right"
										onclick={() => stillRight(fact.name)}>It is still right</button
									>{/if}</span
							>{/if}
						{#if fact.earlier.length > 0}<span class="block text-[0.8rem] text-(--half)">before: {fact.earlier.join('; ')}</span>{/if}
					</span>
					<span>
						{#if mayChange}<button
								class="act-link"
								aria-expanded={open === fact.name}
								aria-label="Correct {definition.label}"
								onclick={() => begin(fact.name)}>Correct</button
							>{/if}
					</span>
				</div>
				{#if open === fact.name}{@render form(definition, shown[fact.name] ?? fact.value, true)}{/if}
			</li>
		{/each}
	</ul>
{/each}
{#if unknown.length > 0}
	<p class="py-2 text-sm text-(--half)">
		Not known yet:
		{#each unknown as definition, i (definition.name)}{#if mayChange}<button
					class="act-link"
					aria-expanded={open === definition.name}
					onclick={() => begin(definition.name)}>{definition.label}</button
				>{:else}{definition.label}{/if}{i < unknown.length - 1 ? ', ' : ''}{/each}
	</p>
	{#each unknown as definition (definition.name)}{#if open === definition.name}{@render form(definition, '', false)}{/if}{/each}
{/if}
