<script lang="ts">
	import { tick } from 'svelte';
	import { invalidateAll } from '$app/navigation';
	import { type FactForm } from '$lib/core/facts/fact-form';
	import { CLIENT_MAY, FACT_KIND_WORDS, SEEN_BY } from '$lib/core/facts/fact-definition';
	import { askDesk } from '$lib/ui/desk/ask-desk';
	import { enhancedForm } from '$lib/ui/forms/enhanced-form';
	import FactFields from '$lib/ui/library/FactFields.svelte';
	import LibraryShelves from '$lib/ui/library/LibraryShelves.svelte';
	import type { PageData } from './$types';

	let { data } = $props();
	type Fact = PageData['facts'][number];
	let open = $state<string | null>(null);
	let form = $state<FactForm | null>(null);
	let problem = $state('');
	let fields = $state<Record<string, string>>({});
	let pending = $state(false);
	let said = $state('');
	let adding = $state('');
	let into = $state('');
	let preview = $state<{ onlyFrom: number; alike: number; differ: number; lists: number; into: { name: string; label: string } } | null>(null);
	const asked = $derived(data.facts.filter(({ retired }) => !retired));
	const retired = $derived(data.facts.filter(({ retired }) => retired));
	const headings = $derived([...new Set(asked.map(({ heading }) => heading))]);
	/** a new one stands under the heading of the last one */
	const heading = $derived(asked.at(-1)?.heading ?? 'The business');

	function begin(fact: Fact) {
		problem = '';
		fields = {};
		preview = null;
		into = '';
		open = open === fact.name ? null : fact.name;
		const { label, hint, heading, is, clientMay, seenBy, secret, confirmAfter } = fact;
		form = structuredClone({ label, hint, heading, is, clientMay, seenBy, secret, confirmAfter });
	}
	const handling = {
		onPending: (p: boolean) => (pending = p),
		onProblem: (p: { message: string; fields: Record<string, string> }) => {
			problem = p.message;
			fields = p.fields;
		},
		onSuccess: () => {
			problem = '';
			fields = {};
		}
	};
	async function move(name: string, by: number) {
		const names = asked.map((fact) => fact.name);
		const from = names.indexOf(name);
		const to = from + by;
		if (to < 0 || to >= names.length) return;
		names.splice(to, 0, ...names.splice(from, 1));
		const body = new FormData();
		for (const one of names) body.append('name', one);
		await fetch('?/order', { method: 'POST', body, headers: { 'x-sveltekit-action': 'true' } });
		await invalidateAll();
		said = `${asked.find((fact) => fact.name === name)?.label}: place ${to + 1} of ${names.length}.`;
		await tick();
		document.getElementById(`fact-${name}`)?.focus();
	}
	function onKey(event: KeyboardEvent, name: string) {
		if (!data.mayKeep || !event.altKey || (event.key !== 'ArrowUp' && event.key !== 'ArrowDown')) return;
		event.preventDefault();
		event.stopPropagation();
		void move(name, event.key === 'ArrowUp' ? -1 : 1);
	}
	async function look(from: string) {
		preview = null;
		problem = '';
		if (!into) return;
		const answer = await askDesk<{ preview: NonNullable<typeof preview> }>('?/previewMerge', { from, into }, (message) => (problem = message));
		preview = answer?.preview ?? null;
	}
	const clients = (n: number) => (n === 1 ? 'one client' : `${n} clients`);
	const aside = (fact: Fact) =>
		[
			fact.clients > 0 ? `known of ${clients(fact.clients)}` : '',
			fact.lists > 0 ? `in ${fact.lists === 1 ? 'one list' : `${fact.lists} lists`}` : '',
			fact.secret ? 'kept secret' : '',
			fact.seenBy === 'all' ? '' : `seen by ${SEEN_BY[fact.seenBy].words}`,
			fact.clientMay === 'correct' ? '' : `clients may ${CLIENT_MAY[fact.clientMay]}`,
			fact.confirmAfter ? `confirmed every ${fact.confirmAfter === 1 ? 'month' : `${fact.confirmAfter} months`}` : ''
		]
			.filter(Boolean)
			.join(' · ');
</script>

<svelte:head><title>Facts · {data.firm.name}</title></svelte:head>

{#snippet row(fact: Fact)}
	<li>
		<button
			id="fact-{fact.name}"
			class="ledger-row kind-row w-full text-left"
			aria-expanded={open === fact.name}
			aria-keyshortcuts={data.mayKeep && !fact.retired ? 'Alt+ArrowUp Alt+ArrowDown' : undefined}
			onkeydown={(event) => onKey(event, fact.name)}
			onclick={() => begin(fact)}
		>
			<span class="kind">{FACT_KIND_WORDS[fact.is.kind].words}</span>
			<span class="min-w-0 truncate"
				><b>{fact.label}</b>
				<span class="text-(--half)"
					>{'choices' in fact.is
						? fact.is.choices.map(({ words }) => words).join(', ')
						: fact.is.kind === 'table'
							? fact.is.columns.map(({ label }) => label).join(', ')
							: fact.hint}</span
				></span
			>
			<span class="aside">{aside(fact)}</span>
		</button>
		{#if open === fact.name && form}
			<div class="opened">
				{#if problem}<p class="notice-wrong mb-3" role="alert">{problem}</p>{/if}
				<form id="form-{fact.name}" method="post" action="?/change" {@attach enhancedForm({ ...handling, close: () => (open = null) })}>
					<input type="hidden" name="name" value={fact.name} /><input type="hidden" name="fact" value={JSON.stringify(form)} />
					<fieldset disabled={!data.mayKeep}>
						<FactFields bind:form {headings} currency={data.currency} checks={data.checks} fixed={fact.readyMade} {fields} />
					</fieldset>
				</form>
				<div class="mt-4 flex flex-wrap items-center gap-3">
					{#if data.mayKeep}<button class="act" form="form-{fact.name}" disabled={pending}>Save</button>{/if}
					<button type="button" class="act-quiet" onclick={() => (open = null)}>{data.mayKeep ? 'Cancel' : 'Close'}</button>
					{#if data.mayKeep}
						<form method="post" action={fact.retired ? '?/takeUp' : '?/retire'} {@attach enhancedForm({ ...handling, close: () => (open = null) })}>
							<input type="hidden" name="name" value={fact.name} />
							<button class="act-link text-sm" disabled={pending}>{fact.retired ? 'Ask for it again' : 'Retire it: kept, and no longer asked'}</button
							>
						</form>
						{#if !fact.retired}<span class="text-sm text-(--half)">Alt with the arrow keys on its line moves it.</span>{/if}
					{/if}
				</div>
				{#if data.mayMerge && !fact.readyMade}
					<div class="mt-3 text-sm">
						<label class="flex flex-wrap items-center gap-2"
							>Merge it into
							<select class="line-input !w-auto" bind:value={into} onchange={() => look(fact.name)}>
								<option value="">choose another fact</option>
								{#each data.facts.filter((other) => other.name !== fact.name) as other (other.name)}<option value={other.name}>{other.label}</option
									>{/each}
							</select></label
						>
						{#if preview}
							<form method="post" action="?/merge" class="notice-lamp mt-2" {@attach enhancedForm({ ...handling, close: () => (open = null) })}>
								<input type="hidden" name="from" value={fact.name} /><input type="hidden" name="into" value={preview.into.name} />
								<p>
									{preview.onlyFrom + preview.alike + preview.differ === 0
										? `“${fact.label}” is known of no client.`
										: `${preview.onlyFrom > 0 ? `What is known of ${clients(preview.onlyFrom)} moves over. ` : ''}${preview.alike > 0 ? `Of ${clients(preview.alike)} both say the same. ` : ''}${preview.differ > 0 ? `Of ${clients(preview.differ)} they differ: “${preview.into.label}” stays, and the other becomes what was said before. ` : ''}`}
									{preview.lists > 0
										? `${preview.lists === 1 ? 'One list' : `${preview.lists} lists`} then ${preview.lists === 1 ? 'goes' : 'go'} by “${preview.into.label}”.`
										: ''}
									This cannot be undone.
								</p>
								<button class="act-quiet mt-2" disabled={pending}>Merge them</button>
							</form>
						{/if}
					</div>
				{/if}
			</div>
		{/if}
	</li>
{/snippet}

<main id="sheet" class="sheet shelf" tabindex="-1">
	<div class="masthead">
		<div class="flex flex-wrap items-baseline gap-x-4 gap-y-2">
			<h1 class="text-[1.65rem] leading-tight">Library</h1>
			<p class="text-[0.88rem] text-(--half)">
				What the firm wants to know about its clients. Said once, it is in the record, in conditions of lists, in letters and in exports.
			</p>
		</div>
		<LibraryShelves at="facts" />
		{#if problem && !open}<p class="notice-wrong mt-2" role="alert">{problem}</p>{/if}
		<p class="sr" aria-live="polite">{said}</p>
	</div>
	{#each headings as heading (heading)}
		<h2 class="section-head">{heading}</h2>
		<ul>
			{#each asked.filter((fact) => fact.heading === heading) as fact (fact.name)}{@render row(fact)}{/each}
		</ul>
	{/each}
	{#if data.mayKeep}
		<form
			method="post"
			action="?/add"
			class="kind-row add"
			{@attach enhancedForm({
				...handling,
				onSuccess: () => {
					handling.onSuccess();
					said = `${adding} was added.`;
					adding = '';
				}
			})}
		>
			<span class="kind"><label for="new-fact">add</label></span>
			<span class="flex items-center gap-3 py-1.5 pr-4"
				><input type="hidden" name="heading" value={heading} />
				<input
					id="new-fact"
					name="label"
					class="line-input"
					bind:value={adding}
					maxlength="60"
					placeholder="Write what you want to know and press Enter. “Number of …” becomes a number, “Date of …” a date."
				/></span
			>
		</form>
	{/if}
	{#if retired.length > 0}
		<h2 class="section-head">No longer asked</h2>
		<ul>
			{#each retired as fact (fact.name)}{@render row(fact)}{/each}
		</ul>
	{/if}
</main>

<style>
	.opened {
		padding: 10px 18px 18px 136px;
		border-bottom: 1px solid var(--rule-strong);
		background: linear-gradient(90deg, transparent 118px, var(--margin-line) 118px, var(--margin-line) 119px, transparent 119px) var(--lamp-soft);
	}
	.add {
		border-bottom: 1px solid var(--rule);
		display: grid;
		align-items: center;
	}
	.add > :nth-child(2) {
		padding-left: 18px;
	}
	button.ledger-row {
		cursor: pointer;
	}
	@media (max-width: 640px) {
		.opened {
			padding-left: 16px;
			background: var(--lamp-soft);
		}
	}
</style>
