<script lang="ts">
	import { enhancedForm } from '../forms/enhanced-form';
	import { leafKeys } from '../desk/leaf-keys';
	import type { LeafProps } from './leaf-props';

	let { leaf, mine, pending, problem, handling, time }: LeafProps<'stopped'> = $props();
	const contact = $derived(leaf.contact);
	const first = $derived(contact.name.split(' ')[0]);
	const HOW = { link: 'by the link in a reminder', page: 'on their page', complaint: '' };
</script>

<div class="space-y-4 p-5 pr-10" {@attach leafKeys}>
	<header>
		<h2 class="text-[1.2rem]">{contact.name} wants no more reminders</h2>
		<p class="text-sm text-(--half)">
			{#each leaf.clients as client, i (client.id)}{i > 0 ? ', ' : ''}<a class="underline decoration-dotted" href="/desk/clients/{client.id}"
					>{client.name}</a
				>{/each}&nbsp;· {time(contact.at)}
		</p>
	</header>
	<p class="notice-lamp">
		{#if contact.how === 'complaint'}
			Their mail service reported {#if leaf.unwanted}<a class="underline decoration-dotted" href="/desk/postroom/{leaf.unwanted.id}"
					>“{leaf.unwanted.subject}”</a
				>{:else}a mail of ours{/if} as unwanted. Often that is one press too many in a mailbox, but more such reports make mail services distrust all that
			the firm sends.
		{:else}
			They stopped them {HOW[contact.how]}.
		{/if}
		Nobody reminds {first} any more, by e-mail or by text message. Letters to sign, codes and what you write yourself still go.
	</p>
	<dl class="facts">
		<div>
			<dt>Telephone</dt>
			<dd>
				{#if contact.phone}<a class="font-semibold underline decoration-dotted underline-offset-2" href="tel:{contact.phone}">{contact.phoneWords}</a
					>{:else}none is known{/if}
			</dd>
		</div>
		<div>
			<dt>Reminders again</dt>
			<dd>only {first} can let them come again: on their page under “What we write to you”, or by the link in any reminder</dd>
		</div>
	</dl>
	<section aria-labelledby="stopped-open">
		<h3 id="stopped-open" class="text-[1rem]">What is open</h3>
		{#if leaf.clients.every(({ items }) => items.length === 0)}<p class="text-sm text-(--half)">Nothing.</p>{/if}
		<ul class="text-sm">
			{#each leaf.clients as client (client.id)}{#each client.items as item (item.id)}<li class="border-t border-(--rule-strong) py-1.5">
						<a class="font-semibold underline decoration-dotted underline-offset-2" href="/desk/clients/{client.id}/item/{item.id}">{item.title}</a>
						{#if leaf.clients.length > 1}<span class="text-(--half)">{client.name}</span>{/if}
					</li>{/each}{/each}
		</ul>
	</section>
	{#if problem}<p class="notice-wrong" role="alert">{problem}</p>{/if}
	{#if mine('judge_item')}<form method="post" action="/desk/contacts/{contact.id}?/seen" data-acts {@attach enhancedForm(handling)}>
			<button class="act-quiet" aria-keyshortcuts="a" disabled={pending}>Seen, take it off the list <span class="key">a</span></button>
		</form>{/if}
	{#if leaf.clients[0]}<p class="text-sm">
			<a class="act-link" href="/desk/clients/{leaf.clients[0].id}/words/{contact.id}">Write to {first}</a>
		</p>{/if}
</div>
