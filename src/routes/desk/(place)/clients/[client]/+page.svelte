<script lang="ts">
	import { eventSentence } from '$lib/core/audit/event-words';
	import { daysLate } from '$lib/core/requests/lateness';
	import { isFinished, isOpen, ITEM_STATE_SHORT } from '$lib/core/requests/item-states';
	import { tickOf } from '$lib/core/requests/tick-strip';
	import { dateWords, timeWords } from '$lib/words/dates';
	import ClientBasics from '$lib/ui/ClientBasics.svelte';
	import ClientEngagements from '$lib/ui/ClientEngagements.svelte';
	import ClientAccounts from '$lib/ui/ClientAccounts.svelte';
	import ClientFacts from '$lib/ui/ClientFacts.svelte';
	import ClientNotes from '$lib/ui/ClientNotes.svelte';
	import { enhancedForm } from '$lib/ui/enhanced-form';
	import ClientPeople from '$lib/ui/ClientPeople.svelte';
	import TickMark from '$lib/ui/TickMark.svelte';

	let { data } = $props();
	const client = $derived(data.client);
	const time = (at: string) => timeWords('en', at, data.firm.timeZone);
	let changing = $state(false);
	const openItems = $derived(data.items.filter((item) => isOpen(item.state)).length);
	const SECTIONS = [
		['people', 'People'],
		['requests', 'Requests'],
		['work', 'What we do'],
		['facts', 'What we know'],
		['notes', 'Notes'],
		['history', 'History']
	] as const;
	const requests = $derived(
		[...new Set(data.items.map((i) => i.requestId))].map((id) => {
			const items = data.items.filter((i) => i.requestId === id);
			return {
				id,
				title: items[0].requestTitle,
				items,
				settled: items.filter((i) => i.state === 'accepted' || i.state === 'waived').length,
				finished: isFinished(items)
			};
		})
	);
	/** Whether the chase that comes next was told in full with an earlier line of the request. */
	function sameAsAbove(items: { id: string }[], id: string): boolean {
		const chase = data.chases[id];
		return items
			.slice(
				0,
				items.findIndex((i) => i.id === id)
			)
			.some((i) => data.chases[i.id]?.when === chase.when && data.chases[i.id]?.why === chase.why);
	}
	let mergeProblem = $state('');
	// an id of its own: a live update brings a new object for the same client, and must not close a form
	const clientId = $derived(client.id);
	$effect(() => {
		void clientId;
		changing = false;
	});
</script>

<svelte:head><title>{client.name} · {data.firm.name}</title></svelte:head>

<div class="p-5 pr-12">
	<header class="flex flex-wrap items-start gap-3">
		<div class="min-w-0 flex-1">
			<h2 class="text-[1.45rem] leading-tight">{client.name}</h2>
			<p class="mt-0.5 text-sm text-(--half)">
				{client.kind === 'business' ? 'A business' : 'A person'}, looked after by {client.responsible}, with us since {dateWords(
					'en',
					client.createdAt,
					'withYear'
				)}
			</p>
			{#if data.rights.restricted}<p class="mt-0.5 text-sm">
					<b class="text-(--lamp-deep)">Only for some of us:</b>
					{[client.responsible, ...data.rights.words.filter((name) => name !== client.responsible), 'administrators'].join(', ')}
				</p>{/if}
		</div>
		<button class="act-quiet" aria-expanded={changing} onclick={() => (changing = !changing)}>Change …</button>
		{#if client.state === 'active'}<a class="act" href="/desk/clients/{client.id}/ask">Ask for something</a>{/if}
	</header>
	{#if changing}{#key client.id}<ClientBasics
				brands={data.brands}
				look={data.look}
				rights={data.rights}
				areas={data.areas}
				groups={data.groups}
				plans={data.plans}
				{client}
				staff={data.staff}
				{openItems}
				done={() => (changing = false)}
			/>{/key}{/if}
	{#if client.state !== 'active'}
		<p class="notice-lamp mt-3">
			<b>{client.state === 'locked' ? 'Locked' : 'No longer a client'}</b> since {time(client.stateAt!)}, by {client.stateBy}: “{client.stateReason}”.
			{client.state === 'locked' ? 'Nothing is asked and nobody is reminded.' : 'They can still read what they handed in.'}
		</p>
	{/if}
	{#if data.doubles.length > 0}
		<p class="notice-lamp mt-3">
			Perhaps the same client: {#each data.doubles as other, i (other.id)}{i > 0 ? '; ' : ''}<a
					class="act-link"
					href="/desk/clients/{client.id}/merge?with={other.id}">{other.name}</a
				>
				{other.why}{/each}.
		</p>
	{/if}
	{#each data.merges as merge (merge.id)}
		<form
			method="post"
			action="/desk/clients/{client.id}/merge?/undo"
			class="mt-3 flex flex-wrap items-baseline gap-x-3 text-sm"
			{@attach enhancedForm({ onProblem: (p) => (mergeProblem = p.message) })}
		>
			<input type="hidden" name="mergeId" value={merge.id} />
			<span class="text-(--half)">{merge.by} merged {merge.kind === 'client' ? 'the client' : 'the person'} {merge.goneName} in on {merge.on}.</span>
			<button class="act-link">Undo the merge</button>
		</form>
	{/each}
	{#if mergeProblem}<p class="notice-wrong mt-2" role="alert">{mergeProblem}</p>{/if}
	<nav aria-label="Parts of the record" class="mt-3 flex flex-wrap gap-x-4 text-[0.83rem]">
		{#each SECTIONS as [id, words] (id)}<a class="act-link" href="#{id}">{words}</a>{/each}
	</nav>

	<h3 id="people" class="part">People</h3>
	{#key client.id}<ClientPeople
			{client}
			phones={data.phones}
			invitationDraft={data.invitationDraft}
			timeZone={data.firm.timeZone}
			maySeeAs={data.maySeeAs}
		/>{/key}

	<span id="requests" class="block"></span>
	{#if data.drafts.length > 0}
		<h3 class="part">Drafts</h3>
		<ul class="text-sm">
			{#each data.drafts as draft (draft.id)}<li class="border-b border-(--rule) py-1.5">
					<a class="font-semibold underline decoration-dotted underline-offset-2" href="/desk/clients/{client.id}/ask?draft={draft.id}"
						>{draft.title || 'Untitled request'}</a
					>
					<span class="text-(--half)">{draft.lines} {draft.lines === 1 ? 'line' : 'lines'}, {draft.changed}</span>
				</li>{/each}
		</ul>
	{/if}
	<h3 class="part flex items-baseline justify-between">
		Again and again{#if client.state === 'active'}<a class="act-link font-sans text-sm font-normal" href="/desk/clients/{client.id}/standing"
				>Set one up</a
			>{/if}
	</h3>
	{#if data.standing.length === 0}<p class="py-2 text-sm text-(--half)">Nothing repeats by itself yet.</p>{/if}
	<ul class="text-sm">
		{#each data.standing as standing (standing.id)}<li class="border-b border-(--rule) py-1.5" class:text-(--half)={standing.state === 'ended'}>
				<a class="font-semibold underline decoration-dotted underline-offset-2" href="/desk/clients/{client.id}/standing/{standing.id}"
					>{standing.title}</a
				>
				<span class="text-(--half)"
					>{standing.rule}{standing.state === 'running'
						? standing.next
							? `; next ${standing.next}`
							: '; nothing comes any more'
						: `; ${standing.state}`}</span
				>
			</li>{/each}
	</ul>
	{#if client.state === 'active' || data.transactionFiles > 0}
		<p class="mt-3 text-sm">
			<a class="act-link" href="/desk/clients/{client.id}/transactions">Questions about transactions</a>
			<span class="text-(--half)"
				>{data.transactionFiles === 0
					? 'from a file of the bank or the ledger'
					: data.transactionFiles === 1
						? 'one file brought in'
						: `${data.transactionFiles} files brought in`}</span
			>
		</p>
	{/if}
	{#if requests.length === 0}
		<h3 class="part">Requests</h3>
		<p class="py-3 text-sm text-(--half)">Nothing has been asked yet. “Ask for something” begins with a ready-made list or an empty sheet.</p>
	{/if}
	{#each requests as request (request.id)}
		<h3 class="mt-6 flex items-baseline gap-2 border-b border-(--rule-strong) pb-1 text-[0.98rem]">
			{request.title}
			<span class="font-sans text-xs font-normal text-(--half)"
				>{request.finished ? 'finished' : `${request.settled} of ${request.items.length} settled`}</span
			>
		</h3>
		<ul>
			{#each request.items as item (item.id)}
				{@const late = daysLate(item, data.today)}
				<li class="border-b border-(--rule-strong)">
					<a
						href="/desk/clients/{client.id}/item/{item.id}"
						data-sveltekit-noscroll
						class="flex items-baseline gap-2.5 py-1.5 text-sm no-underline hover:bg-(--lamp-soft)"
					>
						<span class="translate-y-[2px]"><TickMark tick={tickOf(item, data.today)} /></span>
						<span class="min-w-0 flex-1">
							<span class={item.state === 'accepted' || item.state === 'waived' ? 'text-(--half)' : 'font-semibold'}>{item.title}</span>
							{#if data.chases[item.id]}<span class="block text-[0.8rem] text-(--half)"
									>{sameAsAbove(request.items, item.id)
										? `next: in the same message, ${data.chases[item.id].when.split(',')[0]}`
										: `next: ${data.chases[item.id].when}, ${data.chases[item.id].why}`}</span
								>{/if}
						</span>
						<span class="text-[0.82rem] whitespace-nowrap text-(--half)"
							>{ITEM_STATE_SHORT[item.state] +
								(late === 0 && item.state !== 'asked' && !data.chases[item.id] ? ` ${dateWords('en', item.stateAt, 'short')}` : '')}{#if late > 0}, <b
									class="text-(--lamp-deep)">{late} d late</b
								>{:else if item.dueOn && data.chases[item.id]}, due {dateWords('en', item.dueOn)}{/if}</span
						>
					</a>
				</li>
			{/each}
		</ul>
	{/each}

	{#key client.id}
		<h3 id="work" class="part">What we do for them</h3>
		<ClientEngagements clientId={client.id} engagements={data.engagements} services={data.services} today={data.today} />
		<h3 id="accounts" class="part">Accounts</h3>
		<ClientAccounts clientId={client.id} accounts={data.accounts} currency={data.currency} mayChange={client.state === 'active'} />
		<h3 id="facts" class="part">What we know</h3>
		<ClientFacts clientId={client.id} facts={data.facts} />
		<h3 id="notes" class="part">Notes <span class="font-sans text-xs font-normal text-(--half)">only the firm sees them</span></h3>
		<ClientNotes clientId={client.id} notes={data.notes} timeZone={data.firm.timeZone} />
	{/key}

	<h3 id="history" class="part">History</h3>
	<ol class="text-[0.85rem]">
		{#each data.history as event (event.id)}
			<li class="grid grid-cols-[8.2rem_1fr] gap-2 border-b border-(--rule) py-1 break-words">
				<span class="text-(--half)">{time(event.at)}</span><span class="min-w-0"
					><b class="font-semibold">{event.actorName}</b> {eventSentence(event.verb, event.details)}</span
				>
			</li>
		{/each}
	</ol>
	<p class="py-3 text-sm"><a class="act-link" href="/desk/clients/{client.id}/history">The whole history</a></p>
</div>

<style>
	.part {
		margin-top: 1.4rem;
		padding-bottom: 0.25rem;
		border-bottom: 1px solid var(--rule-strong);
		font-size: 0.98rem;
		scroll-margin-top: 0.5rem;
	}
</style>
