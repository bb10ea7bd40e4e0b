<script lang="ts">
	import {
		closeRanks,
		isOutside,
		newSignerKey,
		orderInSentences,
		orderMistakes,
		SIGNERS_MOST,
		signerWords,
		wayOf,
		type Signer,
		type SigningPeople,
		type Who
	} from '$lib/core/signing/signers';
	import { SIGNING_WAYS, wayChoice, waysFor } from '$lib/core/signing/ways';
	import { AUTOMATIC_FIELDS } from '$lib/core/letters/merge-fields';
	import NameOutsideSigner from './NameOutsideSigner.svelte';
	import WordsField from '../library/WordsField.svelte';
	import { choiceOf, choicesOf } from './signer-sides';

	/** Who signs, in which order, and who gets a copy: said in sentences, with what would go wrong. */
	let {
		signers = $bindable(),
		people,
		placed,
		changed
	}: {
		signers: Signer[];
		people: SigningPeople;
		/** keys of the signers whose places are on the pages; null where there are none */ placed: readonly string[] | null;
		/** told before something changes */ changed?: () => void;
	} = $props();
	const id = $props.id();
	const order = $derived(orderInSentences(signers, people));
	const mistakes = $derived(orderMistakes(signers, people, placed));
	const choices = $derived(choicesOf(people));
	let editing = $state(false);
	/** key of the signer whose words are written */
	let writing = $state<string | null>(null);
	/** whoever gets the request, who signs first, reads its own words; a copy has words of its own too */
	const mayHaveWords = (signer: Signer) =>
		signer.does === 'signs' && signer.who.as !== 'firm' && signer.who.as !== 'asked' && (signer.rank > 1 || withPrevious(signer));

	function set(next: Signer[]) {
		changed?.();
		signers = closeRanks(next);
	}
	const change = (key: string, more: Partial<Signer>) => set(signers.map((signer) => (signer.key === key ? { ...signer, ...more } : signer)));
	/** Whoever is not of the client has no page to sign in to. */
	const choose = (signer: Signer, who: Who) =>
		change(signer.key, {
			who,
			...(isOutside({ who }, people) ? { by: signer.by && signer.by !== 'portal' ? signer.by : ('link_mail' as const) } : {})
		});
	const waysOf = (signer: Signer) => waysFor({ outside: isOutside(signer, people), check: people.check, now: wayOf(signer) });
	/** Words are not steps that are undone one by one. */
	const write = (key: string, words: string) =>
		(signers = signers.map((signer) => (signer.key === key ? { ...signer, words: words.trim() ? words : undefined } : signer)));
	/** One place up or down among those who sign; whoever stood there takes the other. */
	function move(signer: Signer, by: -1 | 1) {
		const ranks = [...new Set(signers.filter(({ does }) => does === 'signs').map(({ rank }) => rank))];
		const to = signer.rank + by;
		if (!ranks.includes(to)) return change(signer.key, { rank: to });
		set(
			signers.map((one) =>
				one.key === signer.key ? { ...one, rank: to } : one.rank === to && one.does === 'signs' ? { ...one, rank: signer.rank } : one
			)
		);
	}
	function add() {
		const ofClient = signers.filter(({ who }) => who.as !== 'firm');
		// whoever gets the request is the first of the client, most of the time
		const taken = signers.map(choiceOf);
		const free = choices.find(({ value }) => !taken.includes(value) && !(value === 'first' && taken.includes('asked'))) ?? choices[0];
		const last = Math.max(0, ...ofClient.filter(({ does }) => does === 'signs').map(({ rank }) => rank));
		const rank = free.who.as === 'firm' ? signers.length + 1 : last + 0.5;
		set([...signers, { key: newSignerKey(signers), who: free.who, does: 'signs', rank }]);
		editing = true;
	}
	const withPrevious = (signer: Signer) => signers.some((one) => one !== signer && one.does === 'signs' && one.rank === signer.rank);
</script>

<ol class="list-decimal space-y-0.5 pl-5">
	{#each order.steps as step (step)}<li>{step}.</li>{/each}
</ol>
{#each order.ways as way (way)}<p class="mt-1 text-(--half)">{way}</p>{/each}
{#if order.end}<p class="mt-1 text-(--half)">{order.end}</p>{/if}
{#each mistakes as mistake (mistake.words)}
	<p class="notice-lamp mt-2 text-sm" role="status">
		{mistake.words}
		{#if mistake.mend}{@const { words, signers: mended } = mistake.mend}
			<button type="button" class="act-link" onclick={() => set(mended)}>{words}</button>{/if}
	</p>
{/each}
{#if editing}
	<ul class="mt-3 space-y-2" aria-label="Who signs, in order">
		{#each signers as signer, at (signer.key)}
			{@const words = signerWords(signer, people)}
			<li class="flex flex-wrap items-center gap-x-2 gap-y-1 border-t border-(--rule) pt-2 text-sm">
				<span class="w-5 text-right text-(--half)">{signer.does === 'copy' ? '·' : `${signer.rank}.`}</span>
				<select
					class="line-input !w-auto !py-0.5"
					aria-label="Who is number {at + 1}"
					value={choiceOf(signer)}
					onchange={(event) => {
						const chosen = choices.find(({ value }) => value === event.currentTarget.value);
						if (chosen) choose(signer, chosen.who);
					}}
				>
					{#if !choices.some(({ value }) => value === choiceOf(signer))}<option value={choiceOf(signer)}>{words}</option>{/if}
					{#each choices as choice (choice.value)}<option value={choice.value}>{choice.words}</option>{/each}
				</select>
				<select
					class="line-input !w-auto !py-0.5"
					aria-label="What {words} does"
					value={signer.does}
					onchange={(event) => change(signer.key, { does: event.currentTarget.value === 'copy' ? 'copy' : 'signs', rank: signers.length + 1 })}
				>
					<option value="signs">signs</option>
					<option value="copy">gets a copy at the end</option>
				</select>
				{#if signer.does === 'signs'}
					<button type="button" class="act-link" aria-label="{words} earlier" disabled={signer.rank <= 1} onclick={() => move(signer, -1)}
						>earlier</button
					>
					<button type="button" class="act-link" aria-label="{words} later" onclick={() => move(signer, 1)}>later</button>
					{#if signer.rank > 1 || withPrevious(signer)}
						<label class="flex items-center gap-1"
							><input
								type="checkbox"
								checked={withPrevious(signer)}
								onchange={(event) =>
									event.currentTarget.checked ? change(signer.key, { rank: signer.rank - 1 }) : change(signer.key, { rank: signer.rank + 0.5 })}
							/> together with others</label
						>
					{/if}
				{/if}
				{#if mayHaveWords(signer)}<button
						type="button"
						class="act-link"
						aria-expanded={writing === signer.key}
						aria-label="Message to {words}"
						onclick={() => (writing = writing === signer.key ? null : signer.key)}>{signer.words ? 'their own message' : 'message …'}</button
					>{/if}
				{#if signers.length > 1}<button
						type="button"
						class="act-link ml-auto"
						aria-label="Take {words} out"
						onclick={() => set(signers.filter(({ key }) => key !== signer.key))}>take out</button
					>{/if}
				{#if signer.who.as === 'outside' && people.clientId}
					<NameOutsideSigner
						clientId={people.clientId}
						named={({ id: contactId }) => change(signer.key, { who: { as: 'contact', contactId }, by: signer.by ?? 'link_mail' })}
					/>
				{:else if signer.does === 'signs' && signer.who.as !== 'firm'}
					<div class="w-full pl-7">
						<select
							class="line-input !w-auto max-w-full !py-0.5"
							aria-label="How {words} comes to it"
							value={wayOf(signer)}
							onchange={(event) => change(signer.key, { by: SIGNING_WAYS.find((way) => way === event.currentTarget.value) })}
						>
							{#each waysOf(signer) as way (way)}<option value={way}>{wayChoice(way, people.check)}</option>{/each}
						</select>
					</div>
				{/if}
				{#if writing === signer.key && mayHaveWords(signer)}<div class="w-full pl-7">
						<WordsField
							label="What the message says to {words} {signer.rank === 1
								? 'unless the request itself goes to them'
								: 'when it is their turn'}; empty for the usual words"
							bind:value={() => signer.words ?? '', (words) => write(signer.key, words)}
							fields={AUTOMATIC_FIELDS}
							rows={3}
						/>
					</div>{/if}
			</li>
		{/each}
	</ul>
{/if}
<p class="mt-2 flex flex-wrap gap-x-4 text-sm">
	<button type="button" class="act-link" aria-expanded={editing} onclick={() => (editing = !editing)}
		>{editing ? 'That is the order' : 'Change who signs'}</button
	>
	{#if signers.length < SIGNERS_MOST}<button type="button" class="act-link" id="{id}-add" onclick={add}>Add somebody</button>{/if}
</p>
