<script lang="ts">
	import { answerInWords } from '$lib/core/requests/answers';
	import type { Answers, ItemSpec } from '$lib/core/requests/item-kinds';
	import { isOpen, isSettled } from '$lib/core/requests/item-states';
	import type { ItemLine } from '$lib/server/requests/read-requests';
	import type { Remark } from '$lib/server/requests/remarks';
	import { answerReader } from '$lib/words/answers';
	import { timeWords } from '$lib/words/dates';
	import { askDesk } from '../ask-desk';
	import FilesToApprove from '../portal/FilesToApprove.svelte';

	/** What a client answered, by the kind of the item, as the firm reads it. */
	let { item, timeZone, secretUntil, remarks }: { item: ItemLine; timeZone: string; secretUntil: string | null; remarks: Remark[] } = $props();
	const questions = $derived(item.kind === 'questionnaire' ? (item.spec as unknown as ItemSpec<'questionnaire'>).questions : []);
	const answers = $derived((item.answerData ?? {}) as Answers);
	const verdict = $derived(item.kind === 'approve' ? (item.answerData as { agrees: boolean; words: string | null } | null) : null);
	let secret = $state<string | null>(null);
	let gone = $state(false);
	$effect(() => {
		void item.id;
		secret = null;
		gone = false;
	});
	const ask = (act: string) => askDesk<{ answer?: string }>(`/desk/items/${item.id}?/${act}`, { version: String(item.version) });
	async function show() {
		const answer = await ask('showSecret');
		if (answer?.answer) secret = answer.answer;
		else gone = true;
	}
	async function end() {
		if (await ask('endSecret')) {
			secret = null;
			gone = true;
		}
	}
</script>

{#if item.kind === 'questionnaire' && item.answerData}
	<dl class="facts">
		{#each questions as question (question.key)}<div>
				<dt>{question.title}</dt>
				<dd class="break-words whitespace-pre-wrap">
					{#if question.key in answers}{answerInWords(question.answer, answers[question.key], answerReader('en'))}{:else}<span class="text-(--half)"
							>no answer</span
						>{/if}
				</dd>
			</div>{/each}
	</dl>
{:else if item.kind === 'approve'}
	{#if verdict && !isOpen(item.state)}
		<p class="notice-lamp">
			<b>{item.contactName}</b>
			{verdict.agrees ? 'agrees.' : 'wants a change.'}{#if verdict.words}&nbsp;“{verdict.words}”{/if}
		</p>
	{/if}
	<FilesToApprove
		{item}
		filesAt="/desk/attachments"
		{remarks}
		locale="en"
		pinAt={isSettled(item.state) ? null : `/desk/items/${item.id}?/pin`}
		version={item.version}
	/>
{:else if item.kind === 'access'}
	<p class="notice-lamp"><b>{item.contactName}</b> {item.answer}: {(item.spec as unknown as ItemSpec<'access'>).system}.</p>
	{#if secret !== null}
		<p class="border border-(--lamp-edge) bg-(--sheet) p-3 font-mono text-[0.95rem] break-all select-all" aria-live="polite">{secret}</p>
		<p class="text-sm">
			<button class="act-link" onclick={() => (secret = null)}>Hide it</button> · <button class="act-link" onclick={end}>Remove it for good</button>
		</p>
	{:else if gone}<p class="text-sm text-(--half)">It is not kept any more.</p>
	{:else if secretUntil}
		<p class="text-sm">
			<button class="act-quiet" onclick={show}>Show what they gave</button>
			<span class="ml-2 text-xs text-(--half)">Each look is in the history. Kept until {timeWords('en', secretUntil, timeZone)}.</span>
		</p>
	{/if}
{:else if item.answer}
	<blockquote class="serif border border-(--rule-strong) bg-(--sheet) p-4 text-[1.02rem] font-normal break-words whitespace-pre-wrap">
		{item.answer}
	</blockquote>
{/if}
