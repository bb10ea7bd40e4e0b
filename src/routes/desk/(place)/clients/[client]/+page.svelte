<script lang="ts">
	import { invalidateAll } from '$app/navigation';
	import { eventSentence } from '$lib/core/audit/event-words';
	import { isFinished } from '$lib/core/requests/item-states';
	import { daysLate } from '$lib/core/requests/lateness';
	import { ITEM_STATE_SHORT } from '$lib/core/requests/item-states';
	import { tickOf } from '$lib/core/requests/tick-strip';
	import { dateWords, timeWords } from '$lib/words/dates';
	import { enhancedForm } from '$lib/ui/enhanced-form';
	import InviteForm from '$lib/ui/InviteForm.svelte';
	import TickMark from '$lib/ui/TickMark.svelte';

	let { data } = $props();
	const client = $derived(data.client);
	const time = (at: string) => timeWords('en', at, data.firm.timeZone);
	let inviting = $state<string | null>(null);
	let mending = $state<string | null>(null);
	let problem = $state('');
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
	// an id of its own: a live update brings a new object for the same client, and must not close a form
	const clientId = $derived(client.id);
	$effect(() => {
		void clientId;
		inviting = null;
		mending = null;
		problem = '';
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
		</div>
		<a class="act" href="/desk/clients/{client.id}/ask">Ask for something</a>
	</header>
	{#if problem}<p class="notice-wrong mt-3" role="alert">{problem}</p>{/if}

	<h3 class="mt-5 border-b border-(--rule-strong) pb-1 text-[0.98rem]">People</h3>
	<ul>
		{#each client.contacts as contact (contact.id)}
			{@const invitation = contact.invitation}
			<li class="border-b border-(--rule-strong) py-2 text-sm">
				<div class="flex flex-wrap items-baseline gap-x-3 gap-y-1">
					<b>{contact.name}</b><span class="text-(--half)">{contact.email}</span>
					<span class="ml-auto flex gap-3">
						{#if contact.mailProblem !== 'bounced' && !contact.hasAccess}
							<button
								class="act-link"
								aria-expanded={inviting === contact.id}
								onclick={() => (inviting = inviting === contact.id ? null : contact.id)}>{invitation ? 'Send again …' : 'Invite …'}</button
							>
							{#if invitation?.state === 'sent'}
								<form
									method="post"
									action="/desk/invitations/{invitation.id}?/withdraw"
									{@attach enhancedForm({ onProblem: (p) => (problem = p.message) })}
								>
									<button class="act-link">Withdraw</button>
								</form>
							{/if}
						{/if}
						<button class="act-link" aria-expanded={mending === contact.id} onclick={() => (mending = mending === contact.id ? null : contact.id)}
							>Change address …</button
						>
					</span>
				</div>
				<p class="text-[0.83rem] text-(--half)">
					{#if contact.mailProblem === 'bounced'}<b class="text-(--lamp-deep)"
							>Mail comes back: {contact.mailProblemDetail}. Nothing goes out until the address is put right.</b
						>
					{:else if contact.mailProblem === 'opted_out'}<b class="text-(--lamp-deep)">Has stopped reminders.</b>{/if}
					{#if contact.hasAccess}{contact.lastSeenAt ? `Last here ${time(contact.lastSeenAt)}.` : ''}
						{invitation?.takenUpAt ? `Took the invitation up ${time(invitation.takenUpAt)}.` : ''}
					{:else if !invitation}Not invited yet.
					{:else if invitation.messageState === 'failed'}The invitation did not arrive.
					{:else if invitation.state === 'withdrawn'}Invitation withdrawn {time(invitation.withdrawnAt!)}.
					{:else if invitation.state === 'expired'}Invited {time(invitation.sentAt)}, lapsed {time(invitation.expiresAt)}.
					{:else if invitation.state === 'replaced'}Invitation not valid any more; send a new one.
					{:else}Invited {time(invitation.sentAt)}, {invitation.openedAt
							? `link opened ${time(invitation.openedAt)}, no password yet`
							: 'not opened yet'}, lapses {time(invitation.expiresAt)}.{/if}
					{#if contact.otherClients.length > 0}Also {contact.otherClients.join(', ')}.{/if}
				</p>
				{#if inviting === contact.id}<div class="mt-3">
						<InviteForm
							clientId={client.id}
							{contact}
							draft={data.invitationDraft}
							words="Send the invitation"
							done={async () => {
								inviting = null;
								await invalidateAll();
							}}
						/>
					</div>{/if}
				{#if mending === contact.id}
					<form
						method="post"
						action="/desk/contacts/{contact.id}?/address"
						class="mt-2 flex items-end gap-2"
						{@attach enhancedForm({
							onProblem: (p) => (problem = p.message),
							onSuccess: () => {
								mending = null;
								problem = '';
							}
						})}
					>
						<label class="field flex-1"
							><span>New e-mail address of {contact.name}</span><input name="email" type="email" value={contact.email} /></label
						>
						<button class="act">Change it</button>
					</form>
				{/if}
			</li>
		{/each}
	</ul>

	{#if requests.length === 0}
		<h3 class="mt-6 border-b border-(--rule-strong) pb-1 text-[0.98rem]">Requests</h3>
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

	<h3 class="mt-6 border-b border-(--rule-strong) pb-1 text-[0.98rem]">History</h3>
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
