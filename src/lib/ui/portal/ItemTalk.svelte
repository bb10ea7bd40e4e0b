<script lang="ts">
	import { tick, untrack } from 'svelte';
	import type { Remark } from '$lib/server/items/remarks';
	import { timeWords } from '$lib/words/dates';
	import { sayer } from '$lib/words/words';
	import { enhancedForm } from '../forms/enhanced-form';
	import type { TypedKeeper } from './keep-typed.svelte';
	import Unfold from './Unfold.svelte';

	/** What both sides wrote about an item, and a field to ask. */
	let {
		remarks,
		locale,
		firm,
		timeZone,
		mayWrite,
		kept,
		about = null,
		typed,
		refused
	}: {
		remarks: Remark[];
		locale: string;
		firm: string;
		timeZone: string;
		mayWrite: boolean;
		/** keeps what is typed */ kept: TypedKeeper;
		/** what a question is begun about: a new one each time */ about?: { what: string } | null;
		/** what was typed and not sent */ typed: string;
		/** what was wrong with it, where no scripts run */ refused: string;
	} = $props();
	const say = $derived(sayer(locale));
	let pending = $state(false);
	// svelte-ignore state_referenced_locally
	let problem = $state(refused);
	// svelte-ignore state_referenced_locally
	let words = $state(typed);
	// svelte-ignore state_referenced_locally
	let unfolded = $state(Boolean(typed || refused));
	let field = $state<HTMLTextAreaElement>();
	$effect(() => {
		if (!about) return;
		const begun = `“${about.what}”: `;
		untrack(() => {
			unfolded = true;
			// what is written already stays, and is not begun twice
			if (!words.includes(begun)) words = words.trim() === '' ? begun : `${words.trimEnd()}\n${begun}`;
		});
		void tick().then(() => {
			field?.focus();
			field?.setSelectionRange(field.value.length, field.value.length);
			field?.dispatchEvent(new Event('input', { bubbles: true }));
			field?.scrollIntoView({ block: 'center' });
		});
	});
	/** said once something was sent */
	let sent = $state(false);
</script>

<section class="mt-8" aria-labelledby="talk">
	{#if remarks.length > 0}
		<h2 id="talk" class="border-b border-(--rule-strong) pb-1 text-[1.05rem]">{say('item.talk')}</h2>
		<ol class="mt-2 space-y-3">
			{#each remarks as remark (remark.id)}
				<li class={remark.side === 'client' ? 'ml-8' : 'mr-8'}>
					<p class="text-[0.85rem] text-(--half)">
						{remark.side === 'client' ? say('item.talk.you') : remark.by}, {timeWords(locale, remark.writtenAt, timeZone)}{remark.pinned
							? `, ${say('item.talk.pinned', { page: remark.pinned.page })}`
							: ''}
					</p>
					<p class="rounded border border-(--rule-strong) bg-[#fffefb] px-3 py-2 break-words whitespace-pre-line" class:firm={remark.side === 'firm'}>
						{remark.words}
					</p>
				</li>
			{/each}
		</ol>
	{:else}<h2 id="talk" class="sr">{say('item.talk')}</h2>{/if}
	{#if mayWrite}
		{#if sent}<p class="notice-lamp mt-3" role="status">{say('item.talk.sent', { firm })}</p>{/if}
		{#if remarks.length > 0}{@render form()}
		{:else}<Unfold words={say('item.talk.open')} bind:open={unfolded}>{@render form()}</Unfold>{/if}
	{/if}
</section>

{#snippet form()}
	<form
		method="post"
		action="?/writeRemark"
		class="mt-3 space-y-2"
		{@attach enhancedForm({
			onPending: (p) => (pending = p),
			onProblem: (p) => (problem = p.message),
			onSuccess: () => {
				words = problem = '';
				sent = true;
			}
		})}
		{@attach kept.form('talk.')}
	>
		{#if problem}<p class="notice-wrong" role="alert">{problem}</p>{/if}
		<label class="field"
			><span>{say('item.talk.label')}</span><textarea
				name="words"
				rows="3"
				maxlength="4000"
				bind:this={field}
				bind:value={words}
				oninput={() => (sent = false)}
				required></textarea></label
		>
		<p class="text-sm text-(--half)">{say('item.talk.told', { firm })}</p>
		<button class="act-quiet" disabled={pending}>{say('item.talk.send')}</button>
	</form>
{/snippet}

<style>
	.firm {
		border-left: 4px solid var(--act);
	}
</style>
