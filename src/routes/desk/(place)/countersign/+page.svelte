<script lang="ts">
	import { tick } from 'svelte';
	import { invalidateAll } from '$app/navigation';
	import type { CountersignResult, LetterToCountersign } from '$lib/server/signing/countersign-many';
	import { enhancedForm } from '$lib/ui/forms/enhanced-form';
	import { dateWords, dayOf } from '$lib/words/dates';

	let { data } = $props();
	/** not chosen, by what the item is: what comes in meanwhile is not chosen by itself */
	let chosen = $state<string[]>([]);
	let password = $state('');
	let problem = $state('');
	let pending = $state(false);
	let done = $state<{ signed: LetterToCountersign[]; left: { letter: LetterToCountersign; why: string }[] } | null>(null);
	let said = $state<HTMLElement>();
	const free = $derived(data.letters.filter(({ apart }) => apart === null));
	const picked = $derived(free.filter(({ itemId }) => chosen.includes(itemId)));
	const counted = (n: number) => (n === 1 ? 'one letter' : `${n} letters`);

	async function finished(answer: Record<string, unknown> | undefined) {
		const results = (answer?.results ?? []) as CountersignResult[];
		const of = (id: string) => data.letters.find(({ itemId }) => itemId === id);
		done = {
			signed: results.flatMap(({ itemId, why }) => (why === null ? (of(itemId) ?? []) : [])),
			left: results.flatMap(({ itemId, why }) => {
				const letter = of(itemId);
				return why !== null && letter ? [{ letter, why }] : [];
			})
		};
		problem = password = '';
		chosen = [];
		await invalidateAll();
		await tick();
		said?.focus();
	}
</script>

<svelte:head><title>To countersign</title></svelte:head>
<div class="sheet-page">
	<p><a class="act-link" href="/desk/rounds">← Rounds</a></p>
	<h1 class="mt-1 text-3xl">
		{data.letters.length === 0
			? 'Nothing waits for our signature.'
			: `${data.letters.length === 1 ? 'One letter waits' : `${data.letters.length} letters wait`} for our signature.`}
	</h1>
	{#if done}
		<div class="notice-lamp mt-3" role="status" tabindex="-1" bind:this={said}>
			{#if done.signed.length > 0}<p>
					You have signed {counted(done.signed.length)}. Each is sealed now, and everybody who signed it gets it.
				</p>{/if}
			{#each done.left as { letter, why } (letter.itemId)}<p>“{letter.title}” of {letter.clientName} is not signed: {why}</p>{/each}
		</div>
	{/if}
	{#if data.letters.length > 0}
		<p class="mt-1 text-(--half)">Read them, choose those you sign, and write your password once for all of them. This cannot be undone.</p>
		<ul class="mt-4" aria-label="Letters that wait for our signature">
			{#each data.letters as letter (letter.itemId)}
				<li class="flex flex-wrap items-baseline gap-x-3 gap-y-1 border-t border-(--rule) py-2">
					<input
						type="checkbox"
						aria-label="Choose {letter.title}, {letter.clientName}"
						value={letter.itemId}
						bind:group={chosen}
						disabled={letter.apart !== null}
					/>
					<span class="min-w-0 flex-1"
						><b>{letter.clientName}</b>
						{letter.title}
						<span class="text-sm text-(--half)"
							>signed by {letter.signedBy}, {dateWords('en', dayOf(letter.since, data.firm.timeZone))}{letter.apart ? ` · ${letter.apart}` : ''}</span
						></span
					>
					<a
						class="act-link text-sm"
						href="/desk/letters/{letter.itemId}"
						target="_blank"
						rel="noopener"
						aria-label="Read {letter.title}, {letter.clientName}">Read {letter.pages === 1 ? 'its page' : `its ${letter.pages} pages`}</a
					>
					<a class="act-link text-sm" href="/desk/items/{letter.itemId}" aria-label="Open {letter.title}, {letter.clientName}">open</a>
				</li>
			{/each}
		</ul>
		{#if free.length > 1}<p class="mt-2 text-sm">
				<button type="button" class="act-link" onclick={() => (chosen = picked.length === free.length ? [] : free.map(({ itemId }) => itemId))}
					>{picked.length === free.length ? 'Choose none' : `Choose all ${free.length}`}</button
				>
			</p>{/if}
		<form
			method="post"
			action="?/sign"
			class="mt-5 max-w-md space-y-3"
			{@attach enhancedForm({ onPending: (p) => (pending = p), onProblem: (p) => (problem = p.message), onSuccess: finished })}
		>
			{#if problem}<p class="notice-wrong" role="alert">{problem}</p>{/if}
			<input type="hidden" name="letters" value={JSON.stringify(picked.map(({ itemId, sha256 }) => ({ itemId, sha256 })))} />
			<label class="field"
				><span>Your password, once more</span><input
					type="password"
					name="ownPassword"
					bind:value={password}
					autocomplete="current-password"
					maxlength="400"
					required
				/></label
			>
			<button class="act" disabled={pending || picked.length === 0}
				>{pending ? 'Signing …' : picked.length === 0 ? 'Choose what you sign' : `Sign ${counted(picked.length)} as ${data.person.name}`}</button
			>
		</form>
	{/if}
</div>

<style>
	.sheet-page {
		max-width: 52rem;
		padding: 18px 22px 60px 104px;
	}
	@media (max-width: 56rem) {
		.sheet-page {
			padding-left: 22px;
		}
	}
</style>
