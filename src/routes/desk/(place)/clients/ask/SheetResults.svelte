<script lang="ts">
	import type { PageData } from './$types';
	import { SHEET_OUTCOMES } from '$lib/core/requests/ask-sheet';

	/** What became of each row of a file, as it stands now. */
	let { sheet, results }: { sheet: NonNullable<PageData['sheet']>; results: PageData['results'] } = $props();
	const count = (of: string[]) => results.filter(({ outcome }) => of.includes(outcome)).length;
	const said = $derived(
		[
			[count(['sent', 'settled']), 'went'],
			[count(['settled']), 'of them done'],
			[count(['draft']), 'still a draft'],
			[count(['problem']), 'could not go'],
			[count(['stays', 'thrown_away']), 'not asked']
		]
			.filter(([n]) => n !== 0)
			.map(([n, words]) => `${n} ${words}`)
			.join(', ')
	);
</script>

<h1 class="text-[1.65rem] leading-tight">“{sheet.listName}” for the rows of a file</h1>
<p class="mt-1 flex flex-wrap items-baseline gap-x-5 text-[0.92rem] text-(--half)">
	<span>{sheet.fileName}, {sheet.usedWords}: {said}.</span>
	<a class="act-link" href="/desk/clients/ask/result?file={sheet.id}" download>Download as CSV</a>
	<a class="act-link" href="/desk/clients/ask?by=file">Another file</a>
</p>
<table class="mt-5 w-full text-[0.89rem]">
	<thead class="text-left text-[0.8rem] text-(--half)"
		><tr
			><th class="w-12 py-1 font-normal">row</th><th class="font-normal">client</th><th class="font-normal">what became of it</th><th
				class="font-normal"
			></th></tr
		></thead
	>
	<tbody>
		{#each results as row (row.line)}
			<tr class="border-t border-(--rule) align-baseline" class:text-(--half)={row.outcome === 'stays'}>
				<td class="py-1 text-(--half)">{row.line}</td>
				<td
					>{#if row.clientId}<a class="underline decoration-dotted underline-offset-2" href="/desk/clients/{row.clientId}">{row.clientName}</a
						>{:else}{row.named || '–'}{/if}</td
				>
				<td class:text-(--lamp-deep)={row.outcome === 'problem'}>{SHEET_OUTCOMES[row.outcome]}{row.why ? `: ${row.why}` : ''}</td>
				<td class="text-right"
					>{#if row.draftId && (row.outcome === 'draft' || row.outcome === 'problem')}<a
							class="act-link"
							href="/desk/clients/{row.clientId}/ask?draft={row.draftId}"
							aria-label="Open the draft for {row.clientName}">Open the draft</a
						>{/if}</td
				>
			</tr>
		{/each}
	</tbody>
</table>
