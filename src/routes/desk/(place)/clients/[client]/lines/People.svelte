<script lang="ts">
	import ClientPeople from '$lib/ui/record/ClientPeople.svelte';
	import RecordLine from '$lib/ui/record/RecordLine.svelte';
	import { enhancedForm } from '$lib/ui/forms/enhanced-form';
	import type { ClientRecord } from '../record.svelte';

	/** The people of the client, and how it stands with their access. */
	let { record }: { record: ClientRecord } = $props();
	const { data, client } = $derived(record);
	let renewing = $state(false);
	let pending = $state(false);
	/** How it stands with somebody who has no access yet. */
	function invitationShort(invitation: (typeof client.contacts)[number]['invitation']): string {
		if (!invitation) return 'not invited yet';
		if (invitation.messageState === 'failed') return 'the invitation did not arrive';
		if (invitation.state === 'withdrawn') return 'invitation withdrawn';
		return `invited ${record.day(invitation.sentAt)}, ${invitation.state === 'expired' ? 'lapsed' : 'not joined yet'}`;
	}
</script>

<RecordLine name="people" heading="people" act={record.mine('invite') ? 'change' : 'show'} open={record.opened.has('people')} toggle={record.toggle}>
	<ul>
		{#each client.contacts as contact (contact.id)}<li>
				{contact.name}{contact.role ? `, ${contact.role}` : ''}
				<span class="text-(--half)"
					>{[contact.email, data.phones[contact.id], contact.hasAccess && contact.lastSeenAt ? `last here ${record.day(contact.lastSeenAt)}` : null]
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
				{#if record.mine('invite') && contact.email && contact.mailProblem !== 'bounced' && !contact.hasAccess && client.state === 'active'}<button
						class="act-link"
						onclick={() => record.invite(contact.id)}>{contact.invitation ? 'Send again …' : 'Invite …'}</button
					>{/if}
				{#if record.mine('judge_item') && client.state === 'active'}<a
						class="act-link"
						href="/desk/clients/{client.id}/words/{contact.id}"
						data-sveltekit-noscroll>write to {contact.name.split(' ')[0]}</a
					>{/if}
				{#if record.mine('see_as')}<form method="post" action="/desk/looks/{contact.id}?/begin" target="_blank" class="inline">
						<button class="act-link" aria-label="See the portal as {contact.name}">see it as {contact.name.split(' ')[0]}</button>
					</form>{/if}
			</li>{:else}<li class="text-(--half)">Nobody yet.</li>{/each}
		{#each data.outside as person (person.id)}<li>
				{person.name} <span class="text-(--half)">{person.email} · from outside, for its letters</span>
			</li>{/each}
	</ul>
	{#if data.papersAddress}<p class="mt-1 text-[0.86rem] text-(--half)">
			Papers by mail to <a class="break-all underline decoration-dotted" href="mailto:{data.papersAddress}">{data.papersAddress}</a>
			{#if record.mine('invite')}<button class="act-link" aria-expanded={renewing} onclick={() => (renewing = !renewing)}>another address …</button
				>{/if}
		</p>
		{#if renewing && record.mine('invite')}<form
				method="post"
				action="/desk/clients/{client.id}?/renewPapersAddress"
				class="notice-lamp mt-2 text-[0.9rem]"
				{@attach enhancedForm({
					onPending: (begins) => (pending = begins),
					onSuccess: () => void (renewing = false),
					close: () => (renewing = false)
				})}
			>
				<p>
					What is sent to this address comes back to its sender from then on. {client.contacts.length > 0
						? 'They see the new one on their page.'
						: ''}
				</p>
				<button class="act mt-2" disabled={pending}>Give them another address</button>
				<button type="button" class="act-quiet mt-2" onclick={() => (renewing = false)}>Leave it</button>
			</form>{/if}
	{/if}
	{#snippet more()}
		{#key client.id}<ClientPeople
				{client}
				phones={data.phones}
				outside={data.outside}
				invitationDraft={data.invitationDraft}
				hours={data.hours}
				plans={data.plans}
				mine={record.mine}
				inviting={record.inviting}
			/>{/key}
	{/snippet}
</RecordLine>
