<script lang="ts">
	import { dateWords, dayOf, timeWords } from '$lib/words/dates';
	import LetterText from '../../letters/LetterText.svelte';
	import type { ReviewProps } from '../review';

	let { item, leaf, timeZone }: ReviewProps<'letter'> = $props();
	const signers = $derived(item.letter?.signers ?? []);
	const STATES = {
		waits: 'is asked when those before have signed',
		asked: 'is asked to sign',
		signed: 'has signed',
		declined: 'does not want to sign',
		stopped: 'was not asked any more'
	} as const;
</script>

{#if item.letter}
	{#if signers.length > 2 || item.letter.ofFiles}
		<ol class="space-y-0.5 text-sm" aria-label="Who signs">
			{#each signers as signer (signer.key)}
				<li class="flex gap-2">
					<span class="w-4 text-center text-(--half)" aria-hidden="true"
						>{signer.copy ? '·' : signer.state === 'signed' ? '✓' : signer.state === 'declined' ? '×' : '–'}</span
					>
					<span
						><b>{signer.name}</b>
						{signer.copy
							? item.letter.state === 'sealed'
								? 'got a copy'
								: 'gets a copy at the end'
							: `${STATES[signer.state]}${signer.signedAt ? ` ${dateWords('en', dayOf(signer.signedAt, timeZone))}` : ''}`}</span
					>
				</li>
			{/each}
		</ol>
	{/if}
	{#if item.letter.state === 'sent' && item.letter.lapsesOn}<p class="text-sm">
			It can be signed until {dateWords('en', item.letter.lapsesOn)}.
		</p>{/if}
	{#if item.letter.state === 'sealed'}
		<p class="text-sm">Signed by all and sealed {timeWords('en', item.letter.sealedAt!, timeZone)}.</p>
		<a class="act" href="/desk/letters/{item.id}?download" download>Download the sealed PDF</a>
	{:else}
		{#if item.letter.state === 'complete'}<p class="text-sm" role="status">All have signed. It is being sealed, and will be here in a moment.</p>{/if}
		{#if leaf.pages?.document}<details class="border border-(--rule-strong) bg-(--sheet)">
				<summary class="cursor-pointer px-4 py-2 text-sm"
					>Read the letter, {item.letter.pages === 1 ? 'one page' : `${item.letter.pages} pages`}</summary
				>
				<div class="max-h-96 overflow-auto px-5 pb-3">
					<LetterText document={leaf.pages.document} />
				</div>
			</details>{:else}<p class="text-sm">
				<a class="act-link" href="/desk/letters/{item.id}" target="_blank" rel="noopener"
					>Read its {item.letter.pages === 1 ? 'page' : `${item.letter.pages} pages`}</a
				>
			</p>{/if}
		<a class="act-link text-sm" href="/desk/letters/{item.id}?download" download>Download as PDF, without signatures</a>
	{/if}
	<p class="text-sm">
		<a class="act-link" href="/desk/clients/{item.clientId}/item/{item.id}/trail">The trail: who did what, when and from where</a>
	</p>
{/if}
