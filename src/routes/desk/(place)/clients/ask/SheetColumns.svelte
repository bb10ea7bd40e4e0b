<script lang="ts">
	import { sheetColumnWords } from '$lib/core/requests/ask-sheet';
	import { enhancedForm } from '$lib/ui/forms/enhanced-form';
	import type { PageData } from './$types';

	/** What each column of a file holds, and which are not used. */
	let {
		sheet,
		fields,
		used,
		another
	}: { sheet: NonNullable<PageData['sheet']>; fields: Record<string, string>; /** by the list */ used: string[]; another: () => Promise<void> } =
		$props();
	let problem = $state('');
	let pending = $state(false);
	const choices = $derived(['client', 'email', ...Object.keys(fields)]);
	const about = (column: string | null) =>
		column === null ? 'not used' : column === 'client' || column === 'email' || used.includes(column) ? '' : 'this list has no place for it';
</script>

<p class="mb-2 flex flex-wrap items-baseline gap-x-5 text-[0.92rem]">
	<span><b>{sheet.fileName}</b> <span class="text-(--half)">{sheet.rows} {sheet.rows === 1 ? 'row' : 'rows'}, {sheet.format}</span></span>
	<button type="button" class="act-link text-sm" onclick={() => void another()}>Another file</button>
</p>
<form
	method="post"
	action="?/columns"
	class="mb-4 grid gap-x-6 gap-y-2 sm:grid-cols-2 xl:grid-cols-3"
	aria-label="What the columns hold"
	onchange={(event) => event.currentTarget.requestSubmit()}
	{@attach enhancedForm({ onPending: (p) => (pending = p), onProblem: (p) => (problem = p.message), onSuccess: () => void (problem = '') })}
>
	<input type="hidden" name="file" value={sheet.id} />
	{#each sheet.columns as column, i (i)}
		<label class="field"
			><span>{sheet.header[i]}{about(column) ? `: ${about(column)}` : ''}</span><select name="column" value={column ?? ''} disabled={pending}>
				<option value="">left out</option>
				{#each choices as choice (choice)}<option value={choice} disabled={choice !== column && sheet.columns.includes(choice)}
						>{sheetColumnWords(choice, fields)}</option
					>{/each}
			</select></label
		>
	{/each}
</form>
{#if problem}<p class="notice-wrong mb-3" role="alert">{problem}</p>{/if}
