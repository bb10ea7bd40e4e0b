<script lang="ts">
	import { enhancedForm } from '../forms/enhanced-form';
	import { leafKeys } from '../desk/leaf-keys';
	import type { LeafProps } from './leaf-props';

	let { leaf, mine, pending, problem, doubted, handling, time }: LeafProps<'message'> = $props();
</script>

<div class="space-y-4 p-5 pr-10" {@attach leafKeys}>
	<header>
		<h2 class="text-[1.2rem]">{leaf.message.state === 'unclear' ? 'Nobody knows whether this arrived' : 'This did not arrive'}</h2>
		<p class="text-sm text-(--half)">“{leaf.message.subject}” to {leaf.message.toName}, {time(leaf.message.plannedAt)}</p>
	</header>
	<p class="notice-lamp">
		{leaf.message.state === 'unclear'
			? 'The sending was cut off between handing the message over and the answer. It was not sent again, so that nobody gets it twice. Ask them, or send it again.'
			: `${leaf.message.reason}. ${
					leaf.message.failedFor === 'full'
						? 'The address is right, so the next reminder goes there again; until they have made room, tell them another way.'
						: leaf.message.failedFor === 'server'
							? 'The address is not to blame, and what comes next is tried again.'
							: `Nothing more goes to this ${leaf.message.channel === 'text' ? 'number' : 'address'} until it is put right.`
				}`}
	</p>
	{#if problem}<p class="notice-wrong" role="alert">{problem}</p>{/if}
	{#if mine('invite') && leaf.message.contactId && leaf.message.mailProblem === 'bounced'}
		<form method="post" action="/desk/contacts/{leaf.message.contactId}?/changeAddress" class="space-y-2" {@attach enhancedForm(handling)}>
			<label class="field"
				><span>E-mail address of {leaf.message.toName}</span><input name="email" type="email" value={leaf.message.toAddress} /></label
			>
			<button class="act" disabled={pending}>Use this address from now on</button>
			{#if doubted}<button class="act-quiet" name="anyway" value="yes" disabled={pending}>Use it anyway</button>{/if}
		</form>
	{/if}
	{#if mine('judge_item')}<form method="post" action="/desk/messages/{leaf.message.id}?/markSeen" data-acts {@attach enhancedForm(handling)}>
			<button class="act-quiet" aria-keyshortcuts="a" disabled={pending}>Seen, take it off the list <span class="key">a</span></button>
		</form>{/if}
	<p class="text-sm">
		<a class="act-link" href="/desk/postroom/{leaf.message.id}">Open it in the Postroom</a>{#if leaf.clientId}
			· <a class="act-link" href="/desk/clients/{leaf.clientId}">Open the client</a>{/if}
	</p>
</div>
