<script lang="ts">
	import type { FactDefinition } from '$lib/core/facts/fact-definition';
	import { enhancedForm } from '$lib/ui/forms/enhanced-form';
	import FactField from '$lib/ui/record/FactField.svelte';
	import { dateWords, dayOf } from '$lib/words/dates';
	import { choiceLabel, fieldWords } from '$lib/words/fact-labels';
	import { sayer } from '$lib/words/words';

	let { data } = $props();
	const say = $derived(sayer(data.locale));
	let open = $state('');
	let problem = $state('');
	let pending = $state(false);
	const words = $derived(fieldWords(data.locale));
	function begin(key: string) {
		problem = '';
		open = open === key ? '' : key;
	}
</script>

<svelte:head><title>{say('facts.title')} · {data.brand.name}</title></svelte:head>

{#snippet form(clientId: string, definition: FactDefinition, value: string)}
	<form
		method="post"
		action="?/say"
		class="notice-lamp my-2 flex flex-wrap items-end gap-3"
		{@attach enhancedForm({
			onPending: (p) => (pending = p),
			onProblem: (p) => (problem = p.fields.value ?? p.message),
			close: () => (open = '')
		})}
	>
		{#if problem}<p class="notice-wrong w-full" role="alert">{problem}</p>{/if}
		<input type="hidden" name="clientId" value={clientId} /><input type="hidden" name="name" value={definition.name} />
		<FactField
			is={definition.is}
			{value}
			label={definition.label}
			hint={data.locale === 'en' ? definition.hint : ''}
			choice={(key) => choiceLabel(data.locale, definition, key)}
			locale={data.locale}
			{words}
			wrong={problem !== ''}
		/>
		<button class="act" disabled={pending}>{say('facts.save')}</button>
		<button type="button" class="act-quiet" onclick={() => (open = '')}>{say('facts.leave')}</button>
	</form>
{/snippet}

<p><a class="act-link" href={data.home}>{say('portal.back')}</a></p>
<h1 class="text-[1.65rem] leading-tight">{say('facts.title')}</h1>
<p class="mt-1 text-(--half)">{say('facts.lead')}</p>
{#each data.clients as client (client.clientId)}
	{@const unknown = data.definitions.filter(
		({ name, clientMay, retired }) => clientMay === 'correct' && !retired && !client.facts.some((fact) => fact.name === name)
	)}
	<section class="mt-6" aria-labelledby="c-{client.clientId}">
		<h2 id="c-{client.clientId}" class="border-b border-(--rule-strong) pb-1 text-[1.15rem]">{client.clientName}</h2>
		<ul>
			{#each data.definitions as definition (definition.name)}
				{@const { name, label } = definition}
				{@const fact = client.facts.find((known) => known.name === name)}
				{#if fact}
					{@const key = `${client.clientId} ${name}`}
					<li class="border-b border-(--rule) py-2">
						<div class="flex items-start justify-between gap-x-4">
							<div class="min-w-0">
								<p class="text-[0.9rem] text-(--half)">{label}</p>
								<p class="font-semibold break-words whitespace-pre-line">{fact.words}</p>
								<p class="text-[0.84rem] text-(--half)">
									{say('facts.said', { name: fact.saidBy, date: dateWords(data.locale, dayOf(fact.saidAt, data.brand.timeZone), 'withYear') })}
								</p>
							</div>
							{#if definition.clientMay === 'correct' && !definition.retired}<button
									class="act-link"
									aria-expanded={open === key}
									aria-label="{say('facts.change')}: {label}"
									onclick={() => begin(key)}>{say('facts.change')}</button
								>{/if}
						</div>
						{#if fact.toConfirm}
							<form
								method="post"
								action="?/confirm"
								class="notice-lamp mt-2 flex flex-wrap items-center gap-3"
								{@attach enhancedForm({ onPending: (p) => (pending = p), onProblem: (p) => (problem = p.message) })}
							>
								<input type="hidden" name="clientId" value={client.clientId} /><input type="hidden" name="name" value={name} />
								<span>{say('facts.stillRight')}</span>
								<button class="act-quiet" disabled={pending} aria-label="{say('facts.stillRight.yes')}: {label}">{say('facts.stillRight.yes')}</button
								>
							</form>
						{/if}
						{#if open === key}{@render form(client.clientId, definition, fact.value)}{/if}
					</li>
				{/if}
			{/each}
		</ul>
		{#if unknown.length > 0}
			<h3 class="mt-4 text-[0.95rem] font-semibold text-(--half)">{say('facts.unknown')}</h3>
			<ul>
				{#each unknown as definition (definition.name)}
					{@const { name, label } = definition}
					{@const key = `${client.clientId} ${name}`}
					<li class="border-b border-(--rule)">
						<div class="flex items-center justify-between gap-4">
							<span>{label}</span>
							<button class="act-link" aria-expanded={open === key} aria-label="{say('facts.tell')}: {label}" onclick={() => begin(key)}
								>{say('facts.tell')}</button
							>
						</div>
						{#if open === key}{@render form(client.clientId, definition, '')}{/if}
					</li>
				{/each}
			</ul>
		{/if}
	</section>
{/each}
