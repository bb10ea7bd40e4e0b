<script lang="ts">
	import FileDrop from '$lib/ui/papers/FileDrop.svelte';
	import { sheetColumnWords } from '$lib/core/requests/ask-sheet';
	import type { PageData } from './$types';

	/** A file with a row for each request is chosen; its columns are named, and one to fill in is handed out. */
	let { data, read }: { data: PageData; read: (id: string) => Promise<void> } = $props();
	const columns = $derived(['client', 'email', ...data.fieldsUsed].map((column) => sheetColumnWords(column, data.fields)));
</script>

<section aria-labelledby="by-file" class="min-w-0">
	<h2 id="by-file" class="text-[1.1rem]">A file with a row for each request</h2>
	<p class="mt-1 max-w-[46rem] text-[0.92rem] text-(--half)">
		It is read, and you see what each row would ask of whom before anything happens. A row finds its client by the name or by the e-mail address of
		somebody there; with both, that person is asked. What stands in other columns is put into the words for that row alone.
	</p>
	<FileDrop
		to="/desk/clients/ask/file"
		bytesMost={data.sheetBytesMost}
		accept=".csv,.tsv,.txt,text/csv,text/tab-separated-values"
		kinds="CSV, up to {data.most.toLocaleString('en')} rows."
		advice="split it and use the parts one after another."
		{read}
	/>
	<p class="mt-4 max-w-[46rem] text-[0.92rem]">
		{#if data.list}
			“{data.list.name}” needs these columns: {columns.join(', ')}.
			<a class="act-link" href="/desk/clients/ask/sheet?list={data.list.id}" download>Download them with your clients in it</a>, write in what is
			missing, take out whom you do not mean, and bring it back here.
		{:else}
			Choose a list first to see which columns it needs.
		{/if}
	</p>
	{#if data.sheets.length > 0}
		<h2 class="mt-8 text-[1.1rem]">Your files so far</h2>
		<ul class="mt-2 max-w-[46rem]">
			{#each data.sheets as file (file.id)}
				<li class="flex flex-wrap items-baseline gap-x-3 border-b border-(--rule) py-1.5 text-[0.9rem]">
					<a
						class="font-semibold underline decoration-dotted underline-offset-2"
						href="/desk/clients/ask?file={file.id}{data.list ? `&list=${data.list.id}` : ''}"
						data-row>{file.fileName}</a
					>
					<span class="text-(--half)"
						>{file.rows} {file.rows === 1 ? 'row' : 'rows'}, {file.listName ? `asked by “${file.listName}”` : 'not asked'}</span
					>
					<span class="ml-auto text-[0.83rem] text-(--half)">{file.at}</span>
				</li>
			{/each}
		</ul>
	{/if}
</section>
