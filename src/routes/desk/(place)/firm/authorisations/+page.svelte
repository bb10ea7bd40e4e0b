<script lang="ts">
	import { enhancedForm } from '$lib/ui/forms/enhanced-form';

	let { data } = $props();
	let password = $state('');
	let problem = $state('');
	let pending = $state(false);
	let said = $state('');
	const signed = $derived(data.authorisations.filter((one) => one.signed));
	const fresh = $derived(signed.filter((one) => one.handedOn === null));

	/** Hands the browser the file that came with the answer. */
	function save(answer: Record<string, unknown> | undefined) {
		const { name, csv } = answer as { name: string; csv: string };
		problem = password = '';
		said = `${name} is downloaded. It holds whole account numbers: delete it once it is where it has to be.`;
		const url = URL.createObjectURL(new Blob([csv], { type: 'text/csv;charset=utf-8' }));
		const link = Object.assign(document.createElement('a'), { href: url, download: name });
		link.click();
		setTimeout(() => URL.revokeObjectURL(url), 10_000);
	}
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
		{#if said}<p class="notice-lamp mt-3 max-w-[44rem]" role="status">{said}</p>{/if}
		{#if signed.length > 0}
			<form
				method="post"
				action="?/download"
				class="mt-3 space-y-3"
				data-not-kept
				{@attach enhancedForm({
					onPending: (p) => (pending = p),
					onProblem: (p) => (problem = p.message),
					onSuccess: save
				})}
			>
				<label class="field max-w-md"
					><span>Your password, once more</span><input
						type="password"
						name="ownPassword"
						bind:value={password}
						autocomplete="current-password"
						maxlength="400"
						required
						aria-invalid={problem ? 'true' : undefined}
					/></label
				>
				{#if problem}<p class="field-problem" role="alert">{problem}</p>{/if}
				<div class="flex flex-wrap gap-2">
					{#if fresh.length > 0}<button class="act" name="which" value="new" disabled={pending}
							>{fresh.length === 1 ? 'Download the new one' : `Download the ${fresh.length} new ones`}</button
						>{/if}
					{#if fresh.length < signed.length}<button class="act-quiet" name="which" value="all" disabled={pending}
							>{signed.length === 1 ? 'Download it again' : `Download all ${signed.length}`}</button
						>{/if}
				</div>
			</form>
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
