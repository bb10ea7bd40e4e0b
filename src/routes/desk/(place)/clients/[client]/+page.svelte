<script lang="ts">
	import { onMount, untrack } from 'svelte';
	import { page } from '$app/state';
	import { eventSentence } from '$lib/core/audit/event-words';
	import { FACT_NAMES } from '$lib/core/clients/facts';
	import { whereWeAre } from '$lib/core/clients/where-we-are';
	import type { Act } from '$lib/core/people/roles';
	import { daysLate } from '$lib/core/requests/lateness';
	import { isFinished, isOpen, isSettled, ITEM_STATE_SHORT } from '$lib/core/requests/item-states';
	import { tickOf } from '$lib/core/requests/tick-strip';
	import { accountName } from '$lib/core/statements/accounts';
	import { dateWords, dayOf, timeWords } from '$lib/words/dates';
	import { SvelteSet } from 'svelte/reactivity';
	import ClientBasics from '$lib/ui/record/ClientBasics.svelte';
	import ClientEngagements from '$lib/ui/record/ClientEngagements.svelte';
	import ClientAccounts from '$lib/ui/record/ClientAccounts.svelte';
	import ClientFacts from '$lib/ui/record/ClientFacts.svelte';
	import ClientNotes from '$lib/ui/record/ClientNotes.svelte';
	import { enhancedForm } from '$lib/ui/forms/enhanced-form';
	import ClientPeople from '$lib/ui/record/ClientPeople.svelte';
	import RecordLine from '$lib/ui/record/RecordLine.svelte';
	import TickMark from '$lib/ui/ticks/TickMark.svelte';

	let { data } = $props();
	const client = $derived(data.client);
	const time = (at: string) => timeWords('en', at, data.firm.timeZone);
	const day = (at: string) => dateWords('en', dayOf(at, data.firm.timeZone), 'short');
	/** whether the person may do something with this client: what they may not do is not offered */
	const mine = (act: Act) => data.acts.includes(act);
	const count = (n: number, one: string, many: string) => `${n} ${n === 1 ? one : many}`;
	const list = (parts: string[]) => (parts.length < 2 ? parts.join('') : `${parts.slice(0, -1).join(', ')} and ${parts.at(-1)}`);
	let changing = $state(false);
	/** the lines that are open, by name */
	const opened = new SvelteSet<string>();
	let inviting = $state<string | null>(null);
	const invite = (contactId: string) => {
		inviting = contactId;
		opened.add('people');
	};
	const toggle = (name: string) => {
		if (!opened.delete(name)) opened.add(name);
		if (name === 'people') inviting = null;
	};
	/** Lines of one sort that are shown before the rest is asked for. */
	const FEW = 6;

	const open = $derived(
		data.items.filter((item) => isOpen(item.state)).sort((one, other) => (one.dueOn ?? '9999').localeCompare(other.dueOn ?? '9999'))
	);
	const toLookAt = $derived(data.items.filter((item) => !isOpen(item.state) && !isSettled(item.state)));
	const settled = $derived(data.items.filter((item) => isSettled(item.state)));
	const signed = $derived(data.items.filter((item) => item.kind === 'letter' && item.letter?.sealedAt).at(-1));
	const cameIn = $derived(
		client.contacts
			.map((contact) => contact.invitation?.takenUpAt ?? null)
			.filter((at) => at !== null)
			.sort()[0]
	);
	const requests = $derived(
		[...new Set(data.items.map((i) => i.requestId))].map((id) => {
			const items = data.items.filter((i) => i.requestId === id);
			return { id, title: items[0].requestTitle, items, settled: items.filter((i) => isSettled(i.state)).length, finished: isFinished(items) };
		})
	);
	const going = $derived(requests.filter((request) => !request.finished));
	/** Below the sentence: what is behind us. */
	const soFar = $derived(
		[
			signed && `Letter signed ${day(signed.letter!.sealedAt!)}`,
			cameIn && `in the portal since ${day(cameIn)}`,
			...(going.length === 1
				? [`${going[0].title}: ${going[0].settled} of ${going[0].items.length} settled`]
				: data.items.length > 0
					? [`${settled.length} of ${data.items.length} settled in ${count(requests.length, 'request', 'requests')}`]
					: [])
		].filter((part) => !!part)
	);
	/** the messages to come, each once, the next one first */
	const messages = $derived([...new Map(Object.values(data.chases).map((chase) => [chase.when, chase]))]);
	const invited = $derived(
		client.contacts.filter(
			(contact) => contact.invitation?.nextChaseOn && contact.mailProblem === null && client.state === 'active' && !contact.hasAccess
		)
	);
	/** How it stands with somebody who has no access yet. */
	function invitationShort(invitation: (typeof client.contacts)[number]['invitation']): string {
		if (!invitation) return 'not invited yet';
		if (invitation.messageState === 'failed') return 'the invitation did not arrive';
		if (invitation.state === 'withdrawn') return 'invitation withdrawn';
		return `invited ${day(invitation.sentAt)}, ${invitation.state === 'expired' ? 'lapsed' : 'not joined yet'}`;
	}
	const remarkOn = (itemId: string) => data.remarks.find((remark) => remark.itemId === itemId);
	/** How it stands with something asked, beside its lateness. */
	function standing(item: (typeof data.items)[number], late: boolean): string {
		if (!isOpen(item.state))
			return `${ITEM_STATE_SHORT[item.state]} ${day(item.stateAt)}${item.papers.length > 0 && !isSettled(item.state) ? `, ${count(item.papers.length, 'file', 'files')}` : ''}`;
		return [
			!late && item.dueOn ? `due ${dateWords('en', item.dueOn)}` : '',
			item.state === 'asked' ? '' : ITEM_STATE_SHORT[item.state],
			item.askedTimeUntil ? `asked for time until ${dateWords('en', item.askedTimeUntil)}` : ''
		]
			.filter((part) => part)
			.join(', ');
	}
	const short = (words: string) => (words.length > 70 ? `${words.slice(0, 68).replace(/\s+\S*$/, '')} …` : words);
	const work = $derived(data.engagements.filter((engagement) => !engagement.endedOn));
	let mergeProblem = $state('');
	// only another client closes what is open: a live update brings a new object for the same one
	let shown = untrack(() => client.id);
	$effect(() => {
		if (client.id === shown) return;
		shown = client.id;
		changing = false;
		inviting = null;
		opened.clear();
	});
	onMount(() => {
		if (page.url.hash) opened.add(page.url.hash.slice(1));
	});
	// reloading or going back finds the lines open that were
	export const snapshot = {
		capture: () => [...opened],
		restore: (names: string[]) => names.forEach((name) => opened.add(name))
	};
</script>

<svelte:head><title>{client.name} · {data.firm.name}</title></svelte:head>

{#snippet asked(item: (typeof data.items)[number])}
	{@const late = daysLate(item, data.today)}
	{@const remark = remarkOn(item.id)}
	<li class="flex items-baseline gap-2.5">
		<span class="translate-y-[1px]"><TickMark tick={tickOf(item, data.today)} /></span>
		<span class="min-w-0">
			<a class="row-link" href="/desk/clients/{client.id}/item/{item.id}" data-sveltekit-noscroll
				><span class={isSettled(item.state) ? '' : 'font-semibold'}>{item.title}</span></a
			>
			{#if late > 0}<b class="text-(--lamp-deep)">{late === 1 ? '1 day' : `${late} days`} late</b>{/if}
			<span class="text-(--half)">{standing(item, late > 0)}{going.length > 1 && !isSettled(item.state) ? `, in ${item.requestTitle}` : ''}</span>
			{#if remark?.side === 'client' && !isSettled(item.state)}<span class="text-(--half)"
					>“{short(remark.words)}”, {remark.by.split(' ')[0]} {day(remark.writtenAt)}</span
				>{/if}
		</span>
	</li>
{/snippet}

<!-- a line of things asked: the first few, and all of them once it is opened -->
{#snippet askedLine(name: string, heading: string, items: typeof data.items, lit = false)}
	{#snippet those(some: typeof data.items)}
		<ul>
			{#each some as item (item.id)}{@render asked(item)}{/each}
		</ul>
	{/snippet}
	{#snippet all()}{@render those(items)}{/snippet}
	<RecordLine {name} {heading} act="show all {items.length}" {lit} open={opened.has(name)} {toggle} more={items.length > FEW ? all : undefined}>
		{@render those(items.slice(0, FEW))}
	</RecordLine>
{/snippet}

<div class="record">
	<header>
		<span aria-hidden="true"></span>
		<div class="flex flex-wrap items-start gap-x-3 gap-y-2">
			<div class="min-w-0 flex-1">
				<h2 class="text-[1.6rem] leading-tight break-words">{client.name}</h2>
				<p class="mt-0.5 text-[0.82rem] text-(--half)">
					{client.kind === 'business' ? 'a business' : 'a person'}, looked after by {client.responsible}, with us since {dateWords(
						'en',
						client.createdAt,
						'withYear'
					)}
				</p>
				{#if data.rights.restricted}<p class="mt-0.5 text-[0.82rem]">
						<b class="text-(--lamp-deep)">Only for some of us:</b>
						{[client.responsible, ...data.rights.words.filter((name) => name !== client.responsible), 'administrators'].join(', ')}
					</p>{/if}
			</div>
			{#if mine('add_client')}<button class="act-quiet" aria-expanded={changing} onclick={() => (changing = !changing)}>Change …</button>{/if}
			{#if client.state === 'active' && mine('send_request')}<a class="act" href="/desk/clients/{client.id}/ask">Ask for something</a>{/if}
		</div>
	</header>
	{#if changing && mine('add_client')}<div class="wide">
			{#key client.id}<ClientBasics
					brands={data.brands}
					look={data.look}
					rights={data.rights}
					areas={data.areas}
					groups={data.groups}
					plans={data.plans}
					{client}
					staff={data.staff}
					openItems={open.length}
					mayClose={mine('close_client')}
					done={() => (changing = false)}
				/>{/key}
		</div>{/if}

	<RecordLine name="where" heading="where" act="" open={false} {toggle}>
		<p class="sentence">{whereWeAre({ state: client.state, items: data.items }, data.today)}</p>
		{#if client.state !== 'active'}<p>
				<b>{client.state === 'locked' ? 'Locked' : 'No longer a client'}</b> since {time(client.stateAt!)}, by {client.stateBy}: “{client.stateReason}”.
				{client.state === 'locked' ? 'Nothing is asked and nobody is reminded.' : 'They can still read what they handed in.'}
			</p>{/if}
		{#if soFar.length > 0}<p class="text-(--half)">{soFar.join(' · ')}</p>{/if}
		{#if data.doubles.length > 0 && mine('close_client')}<p>
				<b class="text-(--lamp-deep)">Perhaps the same client:</b>
				{#each data.doubles as other, i (other.id)}{i > 0 ? '; ' : ''}<a class="act-link" href="/desk/clients/{client.id}/merge?with={other.id}"
						>{other.name}</a
					>
					{other.why}{/each}.
			</p>{/if}
		{#each data.merges as merge (merge.id)}
			<form
				method="post"
				action="/desk/clients/{client.id}/merge?/undo"
				class="flex flex-wrap items-baseline gap-x-3"
				{@attach enhancedForm({ onProblem: (p) => (mergeProblem = p.message) })}
			>
				<input type="hidden" name="mergeId" value={merge.id} />
				<span class="text-(--half)">{merge.by} merged {merge.kind === 'client' ? 'the client' : 'the person'} {merge.goneName} in on {merge.on}.</span
				>
				{#if mine('close_client')}<button class="act-link">Undo the merge</button>{/if}
			</form>
		{/each}
		{#if mergeProblem}<p class="notice-wrong mt-2" role="alert">{mergeProblem}</p>{/if}
	</RecordLine>

	{#snippet nextMessage(when: string, why: string)}<p>Reminder {when}, <span class="text-(--half)">{why}</span></p>{/snippet}
	{#snippet allNext()}
		{#each messages as [when, chase] (when)}
			{@render nextMessage(when, chase.why)}
			<ul class="mb-1.5 ml-4 text-(--half)">
				{#each open.filter((item) => data.chases[item.id]?.when === when) as item (item.id)}<li>{item.title}</li>{/each}
			</ul>
		{/each}
	{/snippet}
	{#if client.state === 'active' && (open.length > 0 || invited.length > 0)}
		<RecordLine name="next" heading="next" act="show all" open={opened.has('next')} {toggle} more={messages.length > 1 ? allNext : undefined}>
			{#if messages.length > 0}{@render nextMessage(messages[0][0], messages[0][1].why)}
			{:else if open.length > 0}<p>
					{open.some((item) => item.dueOn)
						? 'Every reminder has gone out; nobody is reminded any more.'
						: 'What is open has no date, so nobody is reminded.'}
				</p>{/if}
			{#each invited as contact (contact.id)}<p>
					{dateWords('en', contact.invitation!.nextChaseOn!)}, a reminder of the invitation to {contact.name}
					<span class="text-(--half)">unless they join</span>
				</p>{/each}
		</RecordLine>
	{/if}

	{#if toLookAt.length > 0}{@render askedLine('to-look-at', 'to look at', toLookAt, true)}{/if}

	{#if data.drafts.length > 0}
		<RecordLine name="drafts" heading="drafts" act="" open={false} {toggle}>
			<ul>
				{#each data.drafts as draft (draft.id)}<li>
						<a class="row-link font-semibold" href="/desk/clients/{client.id}/ask?draft={draft.id}">{draft.title || 'Untitled request'}</a>
						<span class="text-(--half)">{count(draft.lines, 'line', 'lines')}, not sent yet; {draft.changed}</span>
					</li>{/each}
			</ul>
		</RecordLine>
	{/if}

	{#if open.length > 0}{@render askedLine('open', 'open', open)}
	{:else if data.items.length === 0}
		<RecordLine name="open" heading="open" act="" open={false} {toggle}>
			<p class="text-(--half)">
				{client.state === 'active' && mine('send_request')
					? '“Ask for something” begins with a ready-made list or an empty sheet.'
					: 'Nothing has been asked yet.'}
			</p>
		</RecordLine>
	{/if}

	{#if settled.length > 0}
		<RecordLine name="settled" heading="settled" act="show" open={opened.has('settled')} {toggle}>
			{@const letters = settled.filter((item) => item.kind === 'letter').length}
			{@const papers = settled.filter((item) => item.kind === 'paper').length}
			{@const answers = settled.filter((item) => item.kind === 'question' || item.kind === 'questionnaire').length}
			{@const others = settled.length - letters - papers - answers}
			<p>
				{list([
					...(letters > 0 ? [count(letters, 'letter', 'letters')] : []),
					...(papers > 0 ? [count(papers, 'paper', 'papers')] : []),
					...(answers > 0 ? [count(answers, 'answer', 'answers')] : []),
					...(others > 0 ? [count(others, others === settled.length ? 'thing' : 'other', others === settled.length ? 'things' : 'others')] : [])
				])}<span class="text-(--half)"
					>, the last {day(
						settled
							.map((item) => item.stateAt)
							.sort()
							.at(-1)!
					)}</span
				>
			</p>
			{#snippet more()}
				{#each requests.filter((request) => request.settled > 0) as request (request.id)}
					<h4 class="mt-1 font-sans text-[0.8rem] font-semibold text-(--half)">
						{request.title}, {request.finished ? 'finished' : `${request.settled} of ${request.items.length} settled`}
					</h4>
					<ul>
						{#each request.items.filter((item) => isSettled(item.state)) as item (item.id)}{@render asked(item)}{/each}
					</ul>
				{/each}
			{/snippet}
		</RecordLine>
	{/if}

	{#if data.recurring.length > 0 || (client.state === 'active' && mine('send_request'))}
		<RecordLine name="again" heading="again" act="" open={false} {toggle}>
			<ul>
				{#each data.recurring as recurring (recurring.id)}<li class:text-(--half)={recurring.state === 'ended'}>
						<a class="row-link" href="/desk/clients/{client.id}/standing/{recurring.id}">{recurring.title}</a>{#if recurring.next}, next {recurring.next}{/if}
						<span class="text-(--half)"
							>{recurring.rule}{recurring.state !== 'running' ? `; ${recurring.state}` : recurring.next ? '' : '; nothing comes any more'}</span
						>
					</li>{/each}
			</ul>
			{#if client.state === 'active' && mine('send_request')}<a class="act-link" href="/desk/clients/{client.id}/standing"
					>Set up a standing request</a
				>{/if}
		</RecordLine>
	{/if}

	<RecordLine
		name="accounts"
		heading="accounts"
		act={mine('keep_record') && client.state === 'active' ? 'change' : 'show'}
		open={opened.has('accounts')}
		{toggle}
	>
		<p>
			{#if data.accounts.length === 0}<span class="text-(--half)">None yet. With them, statements are asked for by account and month.</span>
			{:else}{data.accounts
					.filter((account) => !account.closedOn)
					.map((account) => accountName(account))
					.join(' · ') || 'All closed'}{/if}
			{#if client.state === 'active' || data.transactionFiles > 0}&nbsp;· <a class="act-link" href="/desk/clients/{client.id}/transactions"
					>questions about transactions</a
				>{#if data.transactionFiles > 0}<span class="text-(--half)">, {count(data.transactionFiles, 'file', 'files')}</span>{/if}{/if}
		</p>
		{#snippet more()}
			{#key client.id}<ClientAccounts
					clientId={client.id}
					accounts={data.accounts}
					currency={data.currency}
					mayChange={client.state === 'active' && mine('keep_record')}
				/>{/key}
		{/snippet}
	</RecordLine>

	<RecordLine
		name="talk"
		heading="talk"
		act={data.notes.length === 0 && mine('keep_record') ? 'write a note' : 'show'}
		open={opened.has('talk')}
		{toggle}
	>
		{@const last = data.remarks[0]}
		<p>
			{#if last}<a class="row-link" href="/desk/clients/{client.id}/item/{last.itemId}" data-sveltekit-noscroll><b>“{short(last.words)}”</b></a>
				<span class="text-(--half)">{last.by}, {day(last.writtenAt)}</span>{#if data.notes.length > 0}&nbsp;·
				{/if}{/if}
			{#if data.notes.length > 0}{count(data.notes.length, 'note', 'notes')} of ours{data.notes.length > 1 ? ', the last' : ''}
				<span class="text-(--half)">“{short(data.notes[0].words)}”</span>
			{:else if !last}<span class="text-(--half)">Nothing has been written yet.</span>{/if}
		</p>
		{#snippet more()}
			{#if data.remarks.length > 0}<ul>
					{#each data.remarks as remark (remark.itemId)}<li>
							“{short(remark.words)}” <span class="text-(--half)">{remark.by}, {day(remark.writtenAt)}, about</span>
							<a class="row-link" href="/desk/clients/{client.id}/item/{remark.itemId}" data-sveltekit-noscroll>{remark.title}</a>
						</li>{/each}
				</ul>{/if}
			{#key client.id}<ClientNotes clientId={client.id} notes={data.notes} timeZone={data.firm.timeZone} mayWrite={mine('keep_record')} />{/key}
		{/snippet}
	</RecordLine>

	<RecordLine name="people" heading="people" act={mine('invite') ? 'change' : 'show'} open={opened.has('people')} {toggle}>
		<ul>
			{#each client.contacts as contact (contact.id)}<li>
					{contact.name}{contact.role ? `, ${contact.role}` : ''}
					<span class="text-(--half)"
						>{[contact.email, data.phones[contact.id], contact.hasAccess && contact.lastSeenAt ? `last here ${day(contact.lastSeenAt)}` : null]
							.filter((part) => !!part)
							.join(' · ')}{contact.otherClients.length > 0 ? ` · also ${contact.otherClients.join(', ')}` : ''}</span
					>
					{#if contact.suspendedAt}<b class="text-(--lamp-deep)">suspended</b>
					{:else if !contact.email}<b class="text-(--lamp-deep)">no e-mail address yet</b>
					{:else if contact.mailProblem === 'bounced'}<b class="text-(--lamp-deep)">mail comes back</b>
					{:else if contact.textProblem === 'stopped'}<b class="text-(--lamp-deep)">wants no more text messages</b>
					{:else if contact.textProblem === 'failed'}<b class="text-(--lamp-deep)">text messages do not arrive</b>
					{:else if contact.mailProblem === 'opted_out'}<b class="text-(--lamp-deep)">has stopped reminders</b>
					{:else if !contact.hasAccess}<b class="text-(--lamp-deep)">{invitationShort(contact.invitation)}</b>{/if}
					{#if mine('invite') && contact.email && contact.mailProblem !== 'bounced' && !contact.hasAccess && client.state === 'active'}<button
							class="act-link"
							onclick={() => invite(contact.id)}>{contact.invitation ? 'Send again …' : 'Invite …'}</button
						>{/if}
					{#if mine('see_as')}<form method="post" action="/desk/looks/{contact.id}?/begin" target="_blank" class="inline">
							<button class="act-link" aria-label="See the portal as {contact.name}">see it as {contact.name.split(' ')[0]}</button>
						</form>{/if}
				</li>{:else}<li class="text-(--half)">Nobody yet.</li>{/each}
		</ul>
		{#snippet more()}
			{#key client.id}<ClientPeople
					{client}
					phones={data.phones}
					invitationDraft={data.invitationDraft}
					timeZone={data.firm.timeZone}
					{mine}
					{inviting}
				/>{/key}
		{/snippet}
	</RecordLine>

	<RecordLine name="known" heading="known" act={mine('keep_record') ? 'change' : 'show'} open={opened.has('known')} {toggle}>
		<p>
			{data.shortFacts.join(' · ')}
			<span class="text-(--half)">{data.facts.length} of {FACT_NAMES.length} facts known</span>
		</p>
		{#snippet more()}
			{#key client.id}<ClientFacts clientId={client.id} facts={data.facts} mayChange={mine('keep_record')} />{/key}
		{/snippet}
	</RecordLine>

	<RecordLine name="work" heading="what we do" act={mine('add_client') ? 'change' : 'show'} open={opened.has('work')} {toggle}>
		{#if work.length === 0}<p class="text-(--half)">No engagement yet.</p>{/if}
		{#each work as engagement (engagement.id)}<p>
				{engagement.name}
				<span class="text-(--half)"
					>since {dateWords('en', engagement.beganOn, 'short')}{engagement.services.length > 0
						? `: ${engagement.services.map((service) => service.name).join(', ')}`
						: ''}</span
				>
			</p>{/each}
		{#snippet more()}
			{#key client.id}<ClientEngagements
					clientId={client.id}
					engagements={data.engagements}
					services={data.services}
					today={data.today}
					{mine}
				/>{/key}
		{/snippet}
	</RecordLine>

	<RecordLine name="history" heading="history" act="show" open={opened.has('history')} {toggle}>
		{@const last = data.history[0]}
		{#if last}<p>
				{last.actorName}
				{eventSentence(last.verb, last.details)} <span class="text-(--half)">{time(last.at)}</span>
			</p>{/if}
		{#snippet more()}
			<ol>
				{#each data.history as event (event.id)}
					<li class="grid grid-cols-[8.2rem_1fr] gap-2 border-b border-(--rule) py-1 break-words">
						<span class="text-(--half)">{time(event.at)}</span><span class="min-w-0"
							><b class="font-semibold">{event.actorName}</b> {eventSentence(event.verb, event.details)}</span
						>
					</li>
				{/each}
			</ol>
			<p class="py-2"><a class="act-link" href="/desk/clients/{client.id}/history">The whole history</a></p>
		{/snippet}
	</RecordLine>
</div>

<style>
	.record {
		--record-margin: 92px;
		min-height: 100%;
		background: linear-gradient(
			90deg,
			transparent var(--record-margin),
			var(--margin-line) var(--record-margin),
			var(--margin-line) calc(var(--record-margin) + 1px),
			transparent calc(var(--record-margin) + 1px)
		);
	}
	header {
		display: grid;
		grid-template-columns: var(--record-margin) minmax(0, 1fr);
		column-gap: 18px;
		padding: 18px 44px 10px 0;
		border-bottom: 1px solid var(--rule-strong);
	}
	.wide {
		padding: 0 20px 14px calc(var(--record-margin) + 18px);
		border-bottom: 1px solid var(--rule-strong);
	}
	.sentence {
		font-family: 'Source Serif 4 Variable', serif;
		font-size: 1.12rem;
		font-weight: 600;
		line-height: 1.35;
	}
	.row-link {
		text-decoration: underline dotted;
		text-underline-offset: 3px;
	}
	.row-link:hover {
		text-decoration: underline;
	}
	@media (max-width: 640px) {
		.record {
			background: none;
		}
		header {
			grid-template-columns: minmax(0, 1fr);
			padding-left: 16px;
		}
		header > span {
			display: none;
		}
		.wide {
			padding-left: 16px;
		}
	}
</style>
