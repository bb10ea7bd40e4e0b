<script lang="ts">
	import { untrack } from 'svelte';
	import { dateWords } from '$lib/words/dates';
	import { leafKeys } from '../desk/leaf-keys';
	import { enhancedForm } from '../forms/enhanced-form';
	import type { LeafProps } from './leaf-props';

	let { leaf, mine, pending, problem, handling, time }: LeafProps<'waiting_mail'> = $props();
	const answer = $derived(leaf.answer);
	const first = $derived(answer.contactName.split(' ')[0]);
	let until = $state(untrack(() => leaf.answer.backOn ?? ''));
	let folded = $state(false);
</script>

<div class="space-y-4 p-5 pr-10" {@attach leafKeys}>
	<header>
		<h2 class="text-[1.2rem]">{answer.away ? `${answer.contactName} is away` : `An answer that may not be from ${answer.contactName}`}</h2>
		<p class="text-sm text-(--half)">
			{time(answer.cameAt)}&nbsp;·
			<a class="underline decoration-dotted" href="/desk/clients/{answer.clientId}">{answer.clientName}</a>{answer.itemTitle
				? ` · about “${answer.itemTitle}”`
				: ''}
		</p>
	</header>
	{#if answer.away}
		<p>
			A mail program says so, {answer.backOn
				? `and as we read it reminders can go again on ${dateWords('en', answer.backOn, 'long')}`
				: 'and not plainly until when'}. They go on as planned unless you pause them.
		</p>
	{:else}
		<p class="notice-lamp">
			It came from <b class="break-all">{answer.fromAddress || 'no address'}</b>{answer.fromName ? ` (“${answer.fromName}”)` : ''}:
			{answer.held === 'contradicted'
				? 'the mail servers on the way doubt that the sender is who it says. Ask them before you let it in.'
				: `nobody of ${answer.clientName} has this address. Until you let it in it counts for nothing, and reminders go on.`}
		</p>
	{/if}
	<blockquote class="max-h-72 overflow-auto border-l-2 border-(--lamp-edge) pl-4 break-words whitespace-pre-line">{answer.words}</blockquote>
	{#if answer.folded}<p class="text-sm">
			<button type="button" class="act-link" aria-expanded={folded} onclick={() => (folded = !folded)}
				>{folded ? 'Hide' : 'Show'} what stood below</button
			>
		</p>
		{#if folded}<p class="max-h-60 overflow-auto border-l-2 border-(--rule-strong) pl-3 text-[0.8rem] break-words whitespace-pre-line text-(--half)">
				{answer.folded}
			</p>{/if}{/if}
	{#if answer.files.length > 0}<p class="text-sm">With it came {answer.files.map(({ name }) => name).join(', ')}, which wait in Arrivals.</p>{/if}
	{#if problem}<p class="notice-wrong" role="alert">{problem}</p>{/if}
	{#if mine('judge_item')}
		<div class="flex flex-wrap items-end gap-3" data-acts>
			{#if answer.away}
				<form method="post" action="/desk/mails/{answer.id}?/pause" class="flex flex-wrap items-end gap-3" {@attach enhancedForm(handling)}>
					<label class="field"
						><span>Reminders to {first} go again from</span><input type="date" name="until" min={leaf.tomorrow} bind:value={until} required /></label
					>
					<button class="act" disabled={pending}>Pause until then</button>
				</form>
			{:else}
				<form method="post" action="/desk/mails/{answer.id}?/letIn" {@attach enhancedForm(handling)}>
					<button class="act" disabled={pending}>It is from {first}: let it in</button>
				</form>
			{/if}
			<form method="post" action="/desk/mails/{answer.id}?/turnAway" {@attach enhancedForm(handling)}>
				<button class="act-quiet" disabled={pending}>{answer.away ? 'Leave the reminders as they are' : 'Put it away'}</button>
			</form>
		</div>
	{/if}
</div>
