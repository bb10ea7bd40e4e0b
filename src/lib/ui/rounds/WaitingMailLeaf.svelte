<script lang="ts">
	import { untrack } from 'svelte';
	import { dateWords } from '$lib/words/dates';
	import { leafKeys } from '../desk/leaf-keys';
	import { enhancedForm } from '../forms/enhanced-form';
	import type { LeafProps } from './leaf-props';

	let { leaf, mine, pending, problem, doubted, handling, time }: LeafProps<'waiting_mail'> = $props();
	const answer = $derived(leaf.answer);
	const first = $derived(answer.contactName.split(' ')[0]);
	/** of whom nothing is known but what the mail servers do not doubt */
	const address = $derived(answer.held === 'unknown' ? answer.fromAddress : answer.newAddress);
	let until = $state(untrack(() => leaf.answer.backOn ?? ''));
	let folded = $state(false);
</script>

<div class="space-y-4 p-5 pr-10" {@attach leafKeys}>
	<header>
		<h2 class="text-[1.2rem]">
			{answer.away
				? `${answer.contactName} is away`
				: answer.newAddress
					? `${answer.contactName} may have a new address`
					: `An answer that may not be from ${answer.contactName}`}
		</h2>
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
	{:else if answer.newAddress}
		<p>
			Their mail names <b class="break-all">{answer.newAddress}</b>. Until you use it everything goes to
			{answer.contactEmail ?? 'nowhere'}, as before.
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
	{#if address}<p class="text-sm">
			Whoever reads mail at an address can sign in with it. Before you use this one for {first}, ask them by another way{#if answer.contactPhone},
				such as <a class="font-semibold underline decoration-dotted underline-offset-2" href="tel:{answer.contactPhone}">{leaf.phoneWords}</a>{/if}.
			They are signed out everywhere, and the old address is told.
		</p>{/if}
	{#if answer.held && answer.files.length > 0}<p class="text-sm">
			With it came {answer.files.map(({ name }) => name).join(', ')}, which wait in Arrivals.
		</p>{/if}
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
			{:else if answer.held}
				<form method="post" action="/desk/mails/{answer.id}?/letIn" {@attach enhancedForm(handling)}>
					<button class="act" disabled={pending}>It is from {first}: let it in</button>
				</form>
			{/if}
			{#if address && mine('invite')}<form method="post" action="/desk/mails/{answer.id}?/useAddress" {@attach enhancedForm(handling)}>
					<button class={answer.held ? 'act-quiet' : 'act'} disabled={pending}
						>{answer.held ? 'Let it in, and use this address from now on' : 'Use this address from now on'}</button
					>
					{#if doubted}<button class="act-quiet" name="anyway" value="yes" disabled={pending}>Use it anyway</button>{/if}
				</form>{/if}
			<form method="post" action="/desk/mails/{answer.id}?/turnAway" {@attach enhancedForm(handling)}>
				<button class="act-quiet" disabled={pending}
					>{answer.away ? 'Leave the reminders as they are' : answer.newAddress ? 'Keep the address as it is' : 'Put it away'}</button
				>
			</form>
		</div>
	{/if}
</div>
