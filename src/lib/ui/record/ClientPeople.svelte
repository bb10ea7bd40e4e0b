<script lang="ts">
	import LostSecondStep from '../sign-in/LostSecondStep.svelte';
	import { untrack } from 'svelte';
	import { invalidateAll } from '$app/navigation';
	import { dateWords, timeWords } from '$lib/words/dates';
	import type { Act } from '$lib/core/people/roles';
	import type { ClientRecord } from '$lib/server/clients/read-clients';
	import type { OutsideSigner } from '$lib/server/letters/outside-signers';
	import ContactForm from './ContactForm.svelte';
	import { enhancedForm } from '../forms/enhanced-form';
	import { timesInWords } from '$lib/core/calendar/times-in-words';
	import TimesForm from './TimesForm.svelte';
	import InviteForm from '../desk/InviteForm.svelte';

	let {
		client,
		outside,
		phones,
		invitationDraft,
		hours,
		plans,
		mine,
		inviting = null
	}: {
		client: ClientRecord;
		/** who signs for it without being of it */ outside: readonly OutsideSigner[];
		/** by contact, as people of the firm's country write them */ phones: Record<string, string | null>;
		invitationDraft: { subject: string; body: string; text: string };
		/** when the firm writes, and what can be chosen instead */ hours: {
			timeZone: string;
			sendFrom: string;
			sendTo: string;
			perWeek: number;
			zones: readonly string[];
			/** by contact, what stood there when it was read */ asRead: Record<string, string>;
		};
		/** the plans by which somebody can be chased */ plans: readonly { key: string; name: string; words: string }[];
		/** what may be done with this client */ mine: (act: Act) => boolean;
		/** the contact whose invitation is open from the start */ inviting?: string | null;
	} = $props();
	let open = $state<{ what: 'invite' | 'change'; id: string } | 'add' | null>(untrack(() => (inviting ? { what: 'invite', id: inviting } : null)));
	let problem = $state('');
	const time = (at: string) => timeWords('en', at, hours.timeZone);
	const isOpen = (what: 'invite' | 'change', id: string) => open !== null && open !== 'add' && open.what === what && open.id === id;
	const toggle = (what: 'invite' | 'change', id: string) => (open = isOpen(what, id) ? null : { what, id });
	const close = () => {
		open = null;
		problem = '';
	};
	const CHANNEL_WORDS = { text: 'Is written to by text message', both: 'Is written to by e-mail and text message' } as const;
	/** What became of somebody's invitation, and what comes next. */
	function invitationWords({ name, invitation, mailProblem }: ClientRecord['contacts'][number]): string {
		if (!invitation) return 'Not invited yet.';
		if (invitation.messageState === 'failed') return 'The invitation did not arrive.';
		const sent = `${invitation.messageState === null ? 'Given a link' : 'Invited'} ${time(invitation.sentAt)}`;
		if (invitation.state === 'withdrawn') return `Invitation withdrawn ${time(invitation.withdrawnAt!)}.`;
		if (invitation.state === 'expired') return `${sent}, lapsed ${time(invitation.expiresAt)}.`;
		if (invitation.state === 'replaced') return 'Invitation not valid any more; send a new one.';
		const seen = invitation.openedAt
			? `link opened ${time(invitation.openedAt)}, no password yet`
			: invitation.deliveredAt
				? `arrived ${time(invitation.deliveredAt)}, not opened yet`
				: 'not opened yet';
		const reminded = invitation.nextChaseOn && mailProblem === null && client.state === 'active';
		return `${sent}, ${seen}, lapses ${time(invitation.expiresAt)}.${
			reminded ? ` We will remind ${name.split(' ')[0]} on ${dateWords('en', invitation.nextChaseOn!)} unless they join.` : ''
		}`;
	}
	const act = (onSuccess: () => void = close) => enhancedForm({ onProblem: (p) => (problem = p.message), onSuccess });
</script>

{#if problem}<p class="notice-wrong mt-2" role="alert">{problem}</p>{/if}
<ul>
	{#each client.contacts as contact, i (contact.id)}
		{@const invitation = contact.invitation}
		<li class="border-b border-(--rule-strong) py-2 text-sm">
			<div class="flex flex-wrap items-baseline gap-x-3 gap-y-1">
				<b>{contact.name}</b>{#if contact.role}<span class="text-(--half)">{contact.role}</span>{/if}
				<span class="ml-auto flex gap-3">
					{#if mine('invite') && contact.email && contact.mailProblem !== 'bounced' && !contact.hasAccess && client.state === 'active'}
						<button class="act-link" aria-expanded={isOpen('invite', contact.id)} onclick={() => toggle('invite', contact.id)}
							>{invitation ? 'Send again …' : 'Invite …'}</button
						>
						{#if invitation?.state === 'sent'}
							<form method="post" action="/desk/invitations/{invitation.id}?/withdraw" {@attach act()}>
								<button class="act-link">Withdraw</button>
							</form>
						{/if}
					{/if}
					{#if mine('see_as')}<form method="post" action="/desk/looks/{contact.id}?/begin" target="_blank">
							<button class="act-link" aria-label="See the portal as {contact.name}">See it as {contact.name.split(' ')[0]}</button>
						</form>{/if}
					{#if mine('invite')}<button
							class="act-link"
							aria-expanded={isOpen('change', contact.id)}
							aria-label="Change {contact.name} …"
							onclick={() => toggle('change', contact.id)}>Change …</button
						>{/if}
				</span>
			</div>
			<p class="text-(--half)">
				{#if contact.email}{contact.email}{:else}<b class="text-(--lamp-deep)">No e-mail address yet.</b>{/if}{#if phones[contact.id]}&nbsp;· <a
						href="tel:{contact.phone}">{phones[contact.id]}</a
					>{/if}
			</p>
			<p class="text-[0.83rem] text-(--half)">
				{#if contact.suspendedAt}<b class="text-(--lamp-deep)">Suspended since {time(contact.suspendedAt)}: cannot sign in, gets no mail.</b>{/if}
				{#if contact.mailProblem === 'bounced'}<b class="text-(--lamp-deep)"
						>Mail comes back: {contact.mailProblemDetail}. Nothing goes out until the address is put right.</b
					>
				{:else if contact.mailProblem === 'opted_out'}<b class="text-(--lamp-deep)">Has stopped reminders.</b>{/if}
				{#if contact.textProblem === 'stopped'}<b class="text-(--lamp-deep)">Wants no more text messages.</b>
				{:else if contact.textProblem === 'failed'}<b class="text-(--lamp-deep)">Text messages do not arrive: {contact.textProblemDetail}.</b>
				{:else if contact.channels !== 'email'}{CHANNEL_WORDS[contact.channels]}.{/if}
				{#if contact.chasePlan}Is reminded by “{plans.find(({ key }) => key === contact.chasePlan)?.name ?? plans[0].name}”.{/if}
				{#if contact.times}Is written to {timesInWords(contact.times)}.{/if}
				{#if contact.hasAccess}{contact.lastSeenAt ? `Last here ${time(contact.lastSeenAt)}.` : ''}
					{invitation?.takenUpAt ? `Accepted the invitation ${time(invitation.takenUpAt)}.` : ''}
				{:else}{invitationWords(contact)}{/if}
				{#if contact.otherClients.length > 0}Also {contact.otherClients.join(', ')}.{/if}
			</p>
			{#if isOpen('invite', contact.id) && contact.email}<div class="mt-3">
					<InviteForm
						clientId={client.id}
						contact={{ ...contact, email: contact.email }}
						others={client.contacts.flatMap((c) =>
							c.id !== contact.id && c.email && !c.hasAccess && c.mailProblem !== 'bounced' ? [{ ...c, email: c.email }] : []
						)}
						draft={invitationDraft}
						words="Send the invitation"
						done={async () => {
							close();
							await invalidateAll();
						}}
					/>
				</div>{/if}
			{#if isOpen('change', contact.id)}
				<ContactForm clientId={client.id} {contact} phone={phones[contact.id]} {plans} done={close} />
				<TimesForm clientId={client.id} {contact} asRead={hours.asRead[contact.id]} zones={hours.zones} firm={hours} done={close} />
				<div class="flex flex-wrap items-baseline gap-x-4 gap-y-1 border-t border-(--rule) pt-2">
					{#if i > 0}<form method="post" action="/desk/clients/{client.id}?/putContactFirst" {@attach act()}>
							<input type="hidden" name="contactId" value={contact.id} /><button class="act-link"
								>Make this the first contact, who signs letters</button
							>
						</form>{/if}
					{#if mine('close_client')}
						{#if contact.hasAccess && !contact.suspendedAt}<form method="post" action="/desk/clients/{client.id}?/signOut" {@attach act()}>
								<input type="hidden" name="contactId" value={contact.id} /><button class="act-link">Sign out everywhere</button>
							</form>{/if}
						<form method="post" action="/desk/clients/{client.id}?/suspend" {@attach act()}>
							<input type="hidden" name="contactId" value={contact.id} /><input
								type="hidden"
								name="suspend"
								value={contact.suspendedAt ? 'no' : 'yes'}
							/>
							<button class="act-link">{contact.suspendedAt ? 'Lift the suspension' : 'Suspend: no sign-in, no mail'}</button>
						</form>
						<a class="act-link" href="/desk/clients/{client.id}/merge?contact={contact.id}">Merge with another person …</a>
					{/if}
					<form method="post" action="/desk/clients/{client.id}?/takeOff" {@attach act()}>
						<input type="hidden" name="contactId" value={contact.id} /><button class="act-link">Remove from this client</button>
					</form>
					{#if mine('close_client') && contact.hasSecondStep && !contact.suspendedAt}<div class="basis-full">
							<LostSecondStep
								name={contact.name}
								field="contactId"
								id={contact.id}
								action="/desk/clients/{client.id}?/clearSecondStep"
								handling={act()}
							/>
						</div>{/if}
				</div>
			{/if}
		</li>
	{/each}
</ul>
{#if open === 'add'}<ContactForm clientId={client.id} done={close} />
{:else if mine('invite')}<p class="py-2 text-sm"><button class="act-link" onclick={() => (open = 'add')}>Add a person …</button></p>{/if}
{#if outside.length > 0}
	<h3 class="serif mt-3 text-base font-semibold">From outside, for its letters</h3>
	<ul>
		{#each outside as person (person.id)}
			<li class="flex flex-wrap items-baseline gap-x-3 gap-y-1 border-b border-(--rule-strong) py-2 text-sm">
				<b>{person.name}</b>
				<span class="text-(--half)">{person.email}</span>
				<span class="text-[0.83rem] text-(--half)"
					>{person.open > 0
						? 'is to sign a letter'
						: person.signed > 0
							? `has signed ${person.signed === 1 ? 'one letter' : `${person.signed} letters`}`
							: 'has signed nothing yet'}</span
				>
				<span class="ml-auto flex items-baseline gap-3">
					<a
						class="act-link"
						aria-label="{person.name} in People"
						href="/desk/clients/people?search={encodeURIComponent(person.email ?? person.name)}">In People</a
					>
					{#if mine('send_request') && person.open === 0}<form method="post" action="/desk/clients/{client.id}?/takeOutsideSignerOff" {@attach act()}>
							<input type="hidden" name="contactId" value={person.id} /><button class="act-link" aria-label="Remove {person.name}">Remove</button>
						</form>{/if}
				</span>
			</li>
		{/each}
	</ul>
{/if}
