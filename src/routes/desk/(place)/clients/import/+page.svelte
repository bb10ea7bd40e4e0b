<script lang="ts">
	import WholeSheet from '$lib/ui/WholeSheet.svelte';
	import { goto } from '$app/navigation';

	let { data } = $props();
	let problem = $state('');
	let reading = $state('');
	let over = $state(false);
	const STATES = { ready: 'looked at, not brought in', running: 'being brought in', done: 'brought in', undone: 'undone', left: 'left' } as const;

	async function take(files: FileList | null | undefined) {
		const file = files?.[0];
		if (!file || reading) return;
		problem = '';
		// the server breaks a longer upload off, of which a browser tells no more than that the line is gone
		if (file.size > data.bytesMost) {
			problem = `${file.name} is larger than ${data.bytesMost / 1024 / 1024} MB. Nothing was read; split it and bring in the parts.`;
			return;
		}
		reading = file.name;
		try {
			const answer = await fetch('/desk/clients/import/file', {
				method: 'POST',
				body: file,
				headers: { 'x-file-name': encodeURIComponent(file.name), 'content-type': 'application/octet-stream' }
			});
			const said = (await answer.json()) as { id?: string; message?: string };
			if (said.id) await goto(`/desk/clients/import/${said.id}`);
			else problem = said.message ?? 'This file was not read. Please try again.';
		} catch {
			problem = 'The file did not reach us. Please try again.';
		}
		reading = '';
	}
</script>

<svelte:head><title>Bring in a list · {data.firm.name}</title></svelte:head>
<svelte:window
	ondragover={(event) => {
		event.preventDefault();
		over = true;
	}}
	ondragleave={(event) => {
		if (!event.relatedTarget) over = false;
	}}
	ondrop={(event) => {
		event.preventDefault();
		over = false;
		void take(event.dataTransfer?.files);
	}}
/>

<WholeSheet>
	<p class="text-sm"><a class="act-link" href="/desk/clients">Clients</a></p>
	<h1 class="text-[1.65rem] leading-tight">Bring in a list of clients</h1>
	<p class="mt-1 max-w-[46rem] text-[0.95rem] text-(--half)">
		The file is read, and you see what each row would do before anything happens. All of it comes in or nothing, nobody is written to, and it can be
		undone.
	</p>

	<div class="drop" class:over>
		{#if reading}
			<p aria-live="polite">Reading {reading} …</p>
		{:else}
			<label class="act">
				<input
					type="file"
					class="sr"
					accept=".csv,.tsv,.txt,.vcf,text/csv,text/tab-separated-values,text/vcard"
					onchange={(event) => {
						void take(event.currentTarget.files);
						event.currentTarget.value = '';
					}}
				/>Choose a file</label
			>
			<span class="text-sm text-(--half)">or drop it here. CSV or vCard, up to {data.rowsMost.toLocaleString('en')} rows.</span>
		{/if}
	</div>
	{#if problem}<p class="notice-wrong mt-3 max-w-[46rem]" role="alert">{problem}</p>{/if}

	<div class="mt-8 grid gap-x-12 gap-y-8 lg:grid-cols-2">
		<section aria-labelledby="how">
			<h2 id="how" class="text-[1.1rem]">How a list can look</h2>
			<ul class="mt-2 space-y-1.5 text-[0.92rem]">
				<li>One row is one person at one client. Two rows with the same client are two people of it.</li>
				<li>Columns in any order, with commas, semicolons or tabs; headings are recognised, and you can say what a column holds.</li>
				<li>Who has no e-mail address comes in all the same and is counted in Rounds.</li>
				<li>Empty cells change nothing. A client you have already gets only what is new.</li>
			</ul>
			<p class="mt-4 text-sm text-(--half)">Headings we know: {data.columns.join(', ')}.</p>
			<p class="mt-3 text-sm">
				All clients as a file: <a class="act-link" href="/desk/clients/export?as=csv" download>CSV</a>,
				<a class="act-link" href="/desk/clients/export?as=vcard" download>vCard</a>. Brought in again unchanged, it changes nothing.
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

<style>
	.drop {
		display: flex;
		align-items: center;
		gap: 1rem;
		max-width: 46rem;
		min-height: 84px;
		margin-top: 18px;
		padding: 1rem 1.25rem;
		border: 1.5px dashed var(--rule-strong);
		border-radius: 6px;
		background: var(--leaf);
	}
	.over {
		border-color: var(--lamp-edge);
		background: var(--lamp-soft);
	}
	@media (max-width: 800px) {
		.drop {
			flex-direction: column;
			align-items: flex-start;
		}
	}
</style>
