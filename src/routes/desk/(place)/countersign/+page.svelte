<script lang="ts">
	import { tick } from 'svelte';
	import { invalidateAll } from '$app/navigation';
	import type { CountersignResult, LetterToCountersign } from '$lib/server/signing/countersign-many';
	import { enhancedForm } from '$lib/ui/forms/enhanced-form';
	import { dateWords, dayOf } from '$lib/words/dates';

	let { data } = $props();
	/** by their items: what comes in meanwhile is not chosen by itself */
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

<svelte:head><title>To countersign · {data.firm.name}</title></svelte:head>
<main id="sheet" class="sheet choosing" tabindex="-1">
	<div class="masthead">
		<p class="text-sm"><a class="act-link" href="/desk/rounds">Rounds</a></p>
		<h1 class="text-[1.65rem] leading-tight">
			{data.letters.length === 0
				? 'Nothing waits for our signature.'
				: `${data.letters.length === 1 ? 'One letter waits' : `${data.letters.length} letters wait`} for our signature.`}
		</h1>
		{#if done}
			<div class="notice-lamp mt-3 max-w-[44rem]" role="status" tabindex="-1" bind:this={said}>
				{#if done.signed.length > 0}<p>
						You have signed {counted(done.signed.length)}. Each is sealed now, and everybody who signed it gets it.
					</p>{/if}
				{#each done.left as { letter, why } (letter.itemId)}<p>“{letter.title}” of {letter.clientName} is not signed: {why}</p>{/each}
			</div>
		{/if}
		{#if data.letters.length > 0}<p class="mt-1 max-w-[44rem] text-[0.88rem] text-(--half)">
				Read them, choose those you sign, and write your password once for all of them. This cannot be undone.
			</p>{/if}
	</div>
	{#if data.letters.length > 0}
		<ul aria-label="Letters that wait for our signature">
			{#each data.letters as letter (letter.itemId)}
				<li class="row">
					<span class="day">{dateWords('en', dayOf(letter.since, data.firm.timeZone), 'short')}</span>
					<input
						type="checkbox"
						aria-label="Choose {letter.title}, {letter.clientName}"
						value={letter.itemId}
						bind:group={chosen}
						disabled={letter.apart !== null}
					/>
					<span class="min-w-0"
						><b>{letter.clientName}</b>
						{letter.title}
						<span class="text-[0.82rem] text-(--half)">signed by {letter.signedBy}{letter.apart ? ` · ${letter.apart}` : ''}</span></span
					>
					<span class="flex gap-4 whitespace-nowrap">
						<a
							class="act-link"
							href="/desk/letters/{letter.itemId}"
							target="_blank"
							rel="noopener"
							aria-label="Read {letter.title}, {letter.clientName}">read {letter.pages === 1 ? 'its page' : `its ${letter.pages} pages`}</a
						>
						<a class="act-link" href="/desk/items/{letter.itemId}" aria-label="Open {letter.title}, {letter.clientName}">open</a>
					</span>
				</li>
			{/each}
		</ul>
		<form
			method="post"
			action="?/sign"
			class="mt-3 space-y-3 pr-4 pl-4 md:pl-[104px]"
			{@attach enhancedForm({ onPending: (p) => (pending = p), onProblem: (p) => (problem = p.message), onSuccess: finished })}
		>
			{#if free.length > 1}<p class="text-sm">
					<button type="button" class="act-link" onclick={() => (chosen = picked.length === free.length ? [] : free.map(({ itemId }) => itemId))}
						>{picked.length === free.length ? 'Choose none' : `Choose all ${free.length}`}</button
					>
				</p>{/if}
			{#if problem}<p class="notice-wrong max-w-md" role="alert">{problem}</p>{/if}
			<input type="hidden" name="letters" value={JSON.stringify(picked.map(({ itemId, sha256 }) => ({ itemId, sha256 })))} />
			<label class="field max-w-md"
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
</main>

<style>
	.row {
		display: grid;
		grid-template-columns: 86px 18px minmax(0, 1fr) auto;
		align-items: center;
		gap: 0 12px;
		min-height: 36px;
		padding: 2px 18px 2px 0;
		border-bottom: 1px solid var(--rule);
		font-size: 0.9rem;
	}
	.day {
		padding-right: 10px;
		color: var(--half);
		font-size: 0.77rem;
		text-align: right;
	}
	@media (max-width: 640px) {
		.row {
			grid-template-columns: 18px minmax(0, 1fr);
			padding: 6px 16px;
		}
		.day {
			display: none;
		}
		.row > :last-child {
			grid-column: 2;
		}
	}
</style>
