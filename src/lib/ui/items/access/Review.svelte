<script lang="ts">
	import { timeWords } from '$lib/words/dates';
	import { askDesk } from '../../desk/ask-desk';
	import type { ReviewProps } from '../review';

	let { item, leaf, timeZone, answered }: ReviewProps<'access'> = $props();
	let secret = $state<string | null>(null);
	let gone = $state(false);
	/** what is read anew of the same item hides nothing again */
	const id = $derived(item.id);
	$effect(() => {
		void id;
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

{#if answered}
	<p class="notice-lamp"><b>{item.contactName}</b> {item.answer}: {item.spec.system}.</p>
	{#if secret !== null}
		<p class="border border-(--lamp-edge) bg-(--sheet) p-3 font-mono text-[0.95rem] break-all select-all" aria-live="polite">{secret}</p>
		<p class="text-sm">
			<button class="act-link" onclick={() => (secret = null)}>Hide it</button> · <button class="act-link" onclick={end}>Remove it for good</button>
		</p>
	{:else if gone}<p class="text-sm text-(--half)">It is not kept any more.</p>
	{:else if leaf.secretUntil}
		<p class="text-sm">
			<button class="act-quiet" onclick={show}>Show what they gave</button>
			<span class="ml-2 text-xs text-(--half)">Each look is in the history. Kept until {timeWords('en', leaf.secretUntil, timeZone)}.</span>
		</p>
	{/if}
{/if}
