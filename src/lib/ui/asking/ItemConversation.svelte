<script lang="ts">
	import type { ItemRow } from '$lib/server/items/read-items';
	import type { Remark } from '$lib/server/items/remarks';
	import { timeWords } from '$lib/words/dates';
	import { enhancedForm } from '../forms/enhanced-form';
	import { keepOnDevice } from '../forms/keep-on-device';
	import ByMail from '../talk/ByMail.svelte';

	/** What both sides wrote about an item. The firm's words go out by e-mail too. */
	let {
		item,
		remarks,
		timeZone,
		writing,
		mayWrite
	}: {
		item: ItemRow;
		remarks: Remark[];
		timeZone: string;
		/** the field was opened by a person */ writing: boolean;
		/** their role allows it */ mayWrite: boolean;
	} = $props();
	let problem = $state('');
	let pending = $state(false);
	let words = $state('');
	const first = $derived(item.contactName.split(' ')[0]);
	const handling = {
		onPending: (p: boolean) => (pending = p),
		onProblem: (p: { message: string }) => (problem = p.message),
		onSuccess: () => {
			words = problem = '';
		}
	};
</script>

{#if remarks.length > 0 || writing}
	<section aria-labelledby="talk-{item.id}">
		<h3 id="talk-{item.id}" class="text-[1rem]">Said about it</h3>
		<ol class="mt-1 space-y-2 text-sm">
			{#each remarks as remark (remark.id)}<li class="border-l-2 pl-3 {remark.side === 'client' ? 'border-(--lamp-edge)' : 'border-(--rule-strong)'}">
					<span class="text-(--half)"
						>{remark.by}, {timeWords('en', remark.writtenAt, timeZone)}{remark.side === 'client' && !remark.seenAt ? ', new' : ''}{remark.side ===
						'firm'
							? remark.seenAt
								? ', seen'
								: ', not seen yet'
							: ''}</span
					>
					<span class="block break-words whitespace-pre-line">{remark.words}</span>
					{#if remark.mail}<ByMail mail={remark.mail} clientId={item.clientId} />{/if}
				</li>{/each}
		</ol>
		{#if problem}<p class="notice-wrong mt-2" role="alert">{problem}</p>{/if}
		{#if mayWrite}
			<form
				method="post"
				action="/desk/items/{item.id}?/write"
				class="mt-2 space-y-2"
				{@attach enhancedForm(handling)}
				{@attach keepOnDevice(`write ${item.id}`)}
			>
				<input type="hidden" name="version" value={item.version} />
				<label class="field"
					><span>To {first}, by e-mail and on their page</span><textarea data-talk name="words" rows="3" maxlength="4000" bind:value={words} required
					></textarea></label
				>
				<div class="flex gap-3">
					<button class="act-quiet" disabled={pending}>Send to {first}</button>
				</div>
			</form>
			{#if item.unseenByFirm > 0}
				<form method="post" action="/desk/items/{item.id}?/markRemarksSeen" class="mt-1" {@attach enhancedForm(handling)}>
					<input type="hidden" name="version" value={item.version} /><button class="act-link text-sm" disabled={pending}
						>Read, no answer needed</button
					>
				</form>
			{/if}
		{/if}
	</section>
{/if}
