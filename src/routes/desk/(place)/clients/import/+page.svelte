<script lang="ts">
	import FileDrop from '$lib/ui/papers/FileDrop.svelte';
	import WholeSheet from '$lib/ui/desk/WholeSheet.svelte';
	import { goto } from '$app/navigation';

	let { data } = $props();
	const STATES = { ready: 'looked at, not imported', running: 'being imported', done: 'imported', undone: 'undone', left: 'discarded' } as const;
</script>

<svelte:head><title>Import a list · {data.firm.name}</title></svelte:head>

<WholeSheet>
	<p class="text-sm"><a class="act-link" href="/desk/clients">Clients</a></p>
	<h1 class="text-[1.65rem] leading-tight">Import a list of clients</h1>
	<p class="mt-1 max-w-[46rem] text-[0.95rem] text-(--half)">
		The file is read, and you see what each row would do before anything happens. Everything is imported or nothing, nobody is written to, and it can
		be undone.
	</p>

	<FileDrop
		to="/desk/clients/import/file"
		bytesMost={data.bytesMost}
		accept=".csv,.tsv,.txt,.vcf,text/csv,text/tab-separated-values,text/vcard"
		kinds="CSV or vCard, up to {data.rowsMost.toLocaleString('en')} rows."
		advice="split it and import the parts."
		read={(id) => goto(`/desk/clients/import/${id}`)}
	/>

	<div class="mt-8 grid gap-x-12 gap-y-8 lg:grid-cols-2">
		<section aria-labelledby="how">
			<h2 id="how" class="text-[1.1rem]">How a list can look</h2>
			<ul class="mt-2 space-y-1.5 text-[0.92rem]">
				<li>One row is one person at one client. Two rows with the same client are two people of it.</li>
				<li>Columns in any order, with commas, semicolons or tabs; headings are recognised, and you can say what a column holds.</li>
				<li>People without an e-mail address are imported too, and listed in Rounds.</li>
				<li>Empty cells change nothing. A client you have already gets only what is new.</li>
			</ul>
			<p class="mt-4 text-sm text-(--half)">Headings we know: {data.columns.join(', ')}.</p>
			<p class="mt-3 text-sm">
				All clients as a file: <a class="act-link" href="/desk/clients/export?as=csv" download>CSV</a>,
				<a class="act-link" href="/desk/clients/export?as=vcard" download>vCard</a>. Imported again unchanged, it changes nothing.
			</p>
		</section>
		<section aria-labelledby="earlier">
			<h2 id="earlier" class="text-[1.1rem]">Lists so far</h2>
			{#if data.lists.length === 0}<p class="mt-2 text-sm text-(--half)">None yet.</p>{/if}
			<ul class="mt-2">
				{#each data.lists as list (list.id)}
					<li class="flex flex-wrap items-baseline gap-x-3 border-b border-(--rule) py-1.5 text-[0.9rem]">
						<a class="font-semibold underline decoration-dotted underline-offset-2" href="/desk/clients/import/{list.id}" data-row>{list.fileName}</a>
						<span class="text-(--half)"
							>{STATES[list.state]}{list.state === 'done'
								? `: ${list.counts.newClients} new, ${list.counts.update} changed`
								: list.state === 'undone' && list.undoneBy
									? ` by ${list.undoneBy}`
									: ''}</span
						>
						<span class="ml-auto text-[0.83rem] text-(--half)">{list.at}</span>
					</li>
				{/each}
			</ul>
		</section>
	</div>
</WholeSheet>
