<script lang="ts">
	import type { Remark } from '$lib/server/items/remarks';
	import type { NamedTalk } from '$lib/server/talk/words';
	import { timeWords } from '$lib/words/dates';
	import { enhancedForm } from '../forms/enhanced-form';
	import { keepOnDevice } from '../forms/keep-on-device';
	import ByMail from './ByMail.svelte';

	/** What the firm and a person wrote to each other about nothing in particular, and the field to write. */
	let {
		talk,
		words,
		unseen,
		timeZone,
		mayWrite,
		sent,
		begin
	}: {
		talk: NamedTalk;
		words: Remark[];
		/** how many of the client's words nobody has seen */ unseen: number;
		timeZone: string;
		mayWrite: boolean;
		/** once words were sent, or seen */ sent: () => void | Promise<void>;
		/** before they are */ begin?: () => void;
	} = $props();
	let problem = $state('');
	let pending = $state(false);
	let typed = $state('');
	/** the same for every press of one letter, and another for the next */
	let key = $state(crypto.randomUUID());
	const first = $derived(talk.contactName.split(' ')[0]);
	const at = $derived(`/desk/clients/${talk.clientId}/words/${talk.contactId}`);
	const handling = {
		onPending(begins: boolean) {
			pending = begins;
			if (begins) begin?.();
		},
		onProblem: (p: { message: string }) => void (problem = p.message),
		async onSuccess() {
			typed = problem = '';
			key = crypto.randomUUID();
			await sent();
		}
	};
	const how = (one: Remark): string => (one.side === 'client' ? (one.seenAt ? '' : 'new') : one.seenAt ? 'seen' : 'not seen yet');
</script>

{#if words.length > 0}<ol class="border-t border-(--rule-strong)">
		{#each words as one (one.id)}<li class="entry" class:theirs={one.side === 'client'} class:unseen={one.side === 'client' && !one.seenAt}>
				<p class="text-[0.8rem] text-(--half)">
					<b class="text-(--ink)">{one.by}</b>, {timeWords('en', one.writtenAt, timeZone)}{how(one) ? `, ${how(one)}` : ''}
				</p>
				<p class="break-words whitespace-pre-line">{one.words}</p>
				{#if one.mail}<ByMail mail={one.mail} clientId={talk.clientId} />{/if}
			</li>{/each}
	</ol>
{:else}<p class="text-sm text-(--half)">Nothing has been written yet.</p>{/if}
{#if problem}<p class="notice-wrong" role="alert">{problem}</p>{/if}
{#if mayWrite}
	<form
		method="post"
		action="{at}?/write"
		class="space-y-2"
		{@attach enhancedForm(handling)}
		{@attach keepOnDevice(`words ${talk.clientId} ${talk.contactId}`)}
	>
		<input type="hidden" name="idempotencyKey" value={key} />
		<label class="field"
			><span>To {first}, {talk.email ? 'by e-mail and on their page' : 'on their page; there is no address yet'}</span><textarea
				data-talk
				name="words"
				rows="4"
				maxlength="4000"
				bind:value={typed}
				required></textarea></label
		>
		<button class="act" disabled={pending}>Send to {first}</button>
	</form>
	{#if unseen > 0}<form method="post" action="{at}?/markSeen" data-acts {@attach enhancedForm(handling)}>
			<button class="act-quiet" aria-keyshortcuts="n" disabled={pending}>Needs no answer <span class="key">n</span></button>
		</form>{/if}
{/if}

<style>
	.entry {
		padding: 8px 0 8px 12px;
		border-bottom: 1px solid var(--rule-strong);
		border-left: 3px solid transparent;
		font-size: 0.93rem;
	}
	.entry.theirs {
		border-left-color: var(--rule-strong);
	}
	.entry.unseen {
		border-left-color: var(--lamp-edge);
		background: var(--lamp-soft);
	}
</style>
