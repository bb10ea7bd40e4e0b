<script lang="ts">
	let { data } = $props();
	const signed = $derived(data.authorisations.filter((one) => one.signed));
	const fresh = $derived(signed.filter((one) => one.handedOn === null));
</script>

<svelte:head><title>Payment authorisations · {data.firm.name}</title></svelte:head>

<main id="sheet" class="sheet choosing" tabindex="-1">
	<div class="masthead">
		<p class="text-sm"><a class="act-link" href="/desk/firm">Firm</a></p>
		<h1 class="text-[1.65rem] leading-tight">Payment authorisations</h1>
		<p class="max-w-[44rem] text-[0.88rem] text-(--half)">
			Accounts that clients named while they signed, for whoever collects your fees. They are kept encrypted and stand in no list, not in this one
			either: download them as CSV, or look at a single one beside its letter. The history says who did.
		</p>
		{#if signed.length > 0}
			<div class="mt-3 flex flex-wrap gap-2">
				{#if fresh.length > 0}
					<form method="post" action="/desk/firm/authorisations/file">
						<input type="hidden" name="which" value="new" />
						<button class="act">{fresh.length === 1 ? 'Download the new one' : `Download the ${fresh.length} new ones`}</button>
					</form>
				{/if}
				{#if fresh.length < signed.length}
					<form method="post" action="/desk/firm/authorisations/file">
						<input type="hidden" name="which" value="all" />
						<button class="act-quiet">{signed.length === 1 ? 'Download it again' : `Download all ${signed.length}`}</button>
					</form>
				{/if}
			</div>
		{/if}
	</div>
	{#if data.authorisations.length === 0}
		<p class="pl-[104px] text-(--half)">
			No client has named an account yet. To ask for one, open a letter’s words and choose “Payment authorisation” under “Insert a field”.
		</p>
	{:else}
		<table class="list">
			<thead>
				<tr>
					<th class="margin">Since</th>
					<th>Client</th>
					<th>Letter</th>
					<th>Named by</th>
					<th>In a file</th>
				</tr>
			</thead>
			<tbody>
				{#each data.authorisations as one (one.id)}
					<tr>
						<td class="margin text-(--half)">{one.given}</td>
						<td><a class="act-link font-semibold" href="/desk/clients/{one.clientId}">{one.clientName}</a></td>
						<td><a class="act-link" href="/desk/clients/{one.clientId}/item/{one.itemId}">{one.title}</a></td>
						<td>{one.by}</td>
						<td
							>{#if !one.signed}<span class="text-(--half)">not before all have signed</span>{:else if one.handedOn}since {one.handedOn}{:else}<b
									class="text-(--lamp-deep)">not yet</b
								>{/if}</td
						>
					</tr>
				{/each}
			</tbody>
		</table>
	{/if}
</main>
