<script lang="ts">
	import { FACT_NAMES, factInWords, type FactName } from '$lib/core/clients/facts';
	import { enhancedForm } from '$lib/ui/forms/enhanced-form';
	import FactField from '$lib/ui/record/FactField.svelte';
	import { dateWords, dayOf, dayOfYearWords } from '$lib/words/dates';
	import { sayer, type WordKey } from '$lib/words/words';

	let { data } = $props();
	const say = $derived(sayer(data.locale));
	let open = $state('');
	let problem = $state('');
	let pending = $state(false);
	const label = (name: FactName) => say(`fact.${name}`);
	const choice = (key: string) => say(`fact.choice.${key}` as WordKey);
	const inWords = (name: string, value: string) => {
		const words = factInWords(name, value, {
			date: (date) => dateWords(data.locale, date, 'withYear'),
			day: (day) => dayOfYearWords(data.locale, day)
		});
		return value === 'yes' || value === 'no' ? choice(value) : words;
	};
	function begin(key: string) {
		problem = '';
		open = open === key ? '' : key;
	}
</script>

<svelte:head><title>{say('facts.title')} · {data.brand.name}</title></svelte:head>

{#snippet form(clientId: string, name: FactName, value: string)}
	<form
		method="post"
		action="?/say"
		class="notice-lamp my-2 flex flex-wrap items-end gap-3"
		{@attach enhancedForm({
			onPending: (p) => (pending = p),
			onProblem: (p) => (problem = p.message),
			close: () => (open = '')
		})}
	>
		{#if problem}<p class="notice-wrong w-full" role="alert">{problem}</p>{/if}
		<input type="hidden" name="clientId" value={clientId} /><input type="hidden" name="name" value={name} />
		<FactField {name} {value} label={label(name)} {choice} locale={data.locale} words={{ day: say('facts.day'), month: say('facts.month') }} />
		<button class="act" disabled={pending}>{say('facts.save')}</button>
		<button type="button" class="act-quiet" onclick={() => (open = '')}>{say('facts.leave')}</button>
	</form>
{/snippet}

<p><a class="act-link" href={data.home}>{say('portal.back')}</a></p>
<h1 class="text-[1.65rem] leading-tight">{say('facts.title')}</h1>
<p class="mt-1 text-(--half)">{say('facts.lead')}</p>
{#each data.clients as client (client.clientId)}
	{@const unknown = FACT_NAMES.filter((name) => !client.facts.some((fact) => fact.name === name))}
	<section class="mt-6" aria-labelledby="c-{client.clientId}">
		<h2 id="c-{client.clientId}" class="border-b border-(--rule-strong) pb-1 text-[1.15rem]">{client.clientName}</h2>
		<ul>
			{#each FACT_NAMES as name (name)}
				{@const fact = client.facts.find((known) => known.name === name)}
				{#if fact}
					{@const key = `${client.clientId} ${name}`}
					<li class="border-b border-(--rule) py-2">
						<div class="flex flex-wrap items-start justify-between gap-x-4">
							<div class="min-w-0">
								<p class="text-[0.9rem] text-(--half)">{label(name)}</p>
								<p class="font-semibold break-words whitespace-pre-line">{inWords(name, fact.value)}</p>
								<p class="text-[0.84rem] text-(--half)">
									{say('facts.said', { name: fact.saidBy, date: dateWords(data.locale, dayOf(fact.saidAt, data.brand.timeZone), 'withYear') })}
								</p>
							</div>
							<button class="act-link" aria-expanded={open === key} aria-label="{say('facts.change')}: {label(name)}" onclick={() => begin(key)}
								>{say('facts.change')}</button
							>
						</div>
						{#if open === key}{@render form(client.clientId, name, fact.value)}{/if}
					</li>
				{/if}
			{/each}
		</ul>
		{#if unknown.length > 0}
			<h3 class="mt-4 text-[0.95rem] font-semibold text-(--half)">{say('facts.unknown')}</h3>
			<ul>
				{#each unknown as name (name)}
					{@const key = `${client.clientId} ${name}`}
					<li class="border-b border-(--rule)">
						<div class="flex items-center justify-between gap-4">
							<span>{label(name)}</span>
							<button class="act-link" aria-expanded={open === key} aria-label="{say('facts.tell')}: {label(name)}" onclick={() => begin(key)}
								>{say('facts.tell')}</button
							>
						</div>
						{#if open === key}{@render form(client.clientId, name, '')}{/if}
					</li>
				{/each}
			</ul>
		{/if}
	</section>
{/each}
