<script lang="ts">
	import { goto } from '$app/navigation';
	import FileDrop from '$lib/ui/papers/FileDrop.svelte';
	import WholeSheet from '$lib/ui/desk/WholeSheet.svelte';

	let { data } = $props();
	let account = $state('');
</script>

<svelte:head><title>Transactions · {data.client.name}</title></svelte:head>

<WholeSheet>
	<p class="text-sm"><a class="act-link" href="/desk/clients/{data.client.id}">{data.client.name}</a></p>
	<h1 class="text-[1.65rem] leading-tight">Questions about transactions</h1>
	<p class="mt-1 max-w-[46rem] text-[0.95rem] text-(--half)">
		Import what the bank or the ledger exports, choose the lines nobody can place, and ask about them in one go. The client answers line by line; the
		answers go out as CSV with every line as the bank wrote it.
	</p>

	{#if !data.acts.includes('send_request')}<p class="mt-4 text-sm text-(--half)">Your role looks at what was imported.</p>
	{:else if data.client.state === 'active'}
		<div class="mt-4 max-w-[46rem]">
			{#if data.accounts.length > 0}
				<label class="field max-w-xs"
					><span>Account it belongs to</span><select bind:value={account}
						><option value="">as the file says, or several</option>{#each data.accounts as one (one.id)}<option value={one.id}>{one.name}</option
							>{/each}</select
					></label
				>
			{/if}
			<FileDrop
				to="/desk/clients/{data.client.id}/transactions/file{account ? `?account=${account}` : ''}"
				bytesMost={data.bytesMost}
				accept=".csv,.tsv,.txt,.ofx,.qfx,.qbo,.qif,.xml,.sta,.940,text/csv,application/x-ofx,application/xml"
				kinds="CSV, OFX, QFX, QIF, camt.053 or MT940."
				advice="ask the bank for less time and import the parts."
				read={(id) => goto(`/desk/clients/${data.client.id}/transactions/${id}`)}
			/>
		</div>
	{:else}<p class="notice-lamp mt-4 max-w-[46rem]">Nothing new can be asked of {data.client.name} just now.</p>{/if}

	<section class="mt-8 max-w-[60rem]" aria-labelledby="files">
		<h2 id="files" class="text-[1.1rem]">Files so far</h2>
		{#if data.files.length === 0}<p class="mt-2 text-sm text-(--half)">None yet.</p>{/if}
		<ul class="mt-1">
			{#each data.files as file (file.id)}<li class="flex flex-wrap items-baseline gap-x-3 border-b border-(--rule) py-1.5 text-[0.92rem]">
					<a
						class="font-semibold underline decoration-dotted underline-offset-2"
						href="/desk/clients/{data.client.id}/transactions/{file.id}"
						data-row>{file.name}</a
					>
					<span class="text-(--half)"
						>{file.format}{file.account ? `, ${file.account}` : ''}; {file.lines.toLocaleString('en')}
						{file.lines === 1 ? 'line' : 'lines'}{file.asked > 0 ? `, ${file.asked} asked about` : ''}{file.unread > 0
							? `, ${file.unread.toLocaleString('en')} not read`
							: ''}</span
					>
					<span class="ml-auto text-[0.83rem] text-(--half)">{file.broughtBy.split(' ')[0]}, {file.at}</span>
				</li>{/each}
		</ul>
	</section>
</WholeSheet>
