<script lang="ts">
	import InviteForm from '../desk/InviteForm.svelte';
	import { enhancedForm } from '../forms/enhanced-form';
	import { leafKeys } from '../desk/leaf-keys';
	import type { LeafProps } from './leaf-props';

	let { leaf, mine, pending, problem, handling, time, openNext, remember }: LeafProps<'invitation'> = $props();
	const contact = $derived(leaf.client.contacts.find((c) => c.id === leaf.contactId));
</script>

<div class="space-y-4 p-5 pr-10" {@attach leafKeys}>
	<header>
		<h2 class="text-[1.2rem]">{contact?.name} has not joined yet</h2>
		<p class="text-sm text-(--half)">
			<a class="underline decoration-dotted" href="/desk/clients/{leaf.client.id}">{leaf.client.name}</a> · sent {time(leaf.invitation.sentAt)} · {leaf
				.invitation.openedAt
				? `link opened ${time(leaf.invitation.openedAt)}`
				: 'link not opened'} · {leaf.invitation.state === 'expired' ? 'lapsed' : 'lapses'}
			{time(leaf.invitation.expiresAt)}
		</p>
	</header>
	{#if problem}<p class="notice-wrong" role="alert">{problem}</p>{/if}
	{#if mine('invite') && contact?.email && !contact.hasAccess}
		{#key leaf.invitation.id}<InviteForm
				clientId={leaf.client.id}
				contact={{ ...contact, email: contact.email }}
				draft={leaf.draft}
				words="Send the invitation again"
				done={openNext}
				begin={remember}
			/>{/key}
	{/if}
	{#if mine('invite')}<div class="flex gap-2 border-t border-(--rule-strong) pt-4" data-acts>
			<form method="post" action="/desk/invitations/{leaf.invitation.id}?/putAside" {@attach enhancedForm(handling)}>
				<button class="act-quiet" aria-keyshortcuts="a" disabled={pending}>Set aside for now <span class="key">a</span></button>
			</form>
			{#if leaf.invitation.state === 'sent'}<form
					method="post"
					action="/desk/invitations/{leaf.invitation.id}?/withdraw"
					{@attach enhancedForm(handling)}
				>
					<button class="act-quiet" disabled={pending}>Withdraw the invitation</button>
				</form>{/if}
		</div>{/if}
</div>
