<script lang="ts">
	import { untrack } from 'svelte';
	import { feeAmount, FEES_MOST, type Fee } from '$lib/core/letters/fees';
	import FeeInput from '../forms/FeeInput.svelte';

	/** The fees in one copy of a letter: those of the client's record, until they are changed for this copy. */
	let {
		title,
		fees = $bindable(),
		ofRecord,
		currency
	}: {
		/** of the letter */ title: string;
		/** null while those of the record count */ fees: Fee[] | null;
		/** null where it is not known yet for whom */ ofRecord: readonly Fee[] | null;
		currency: string;
	} = $props();
	const typed = (of: readonly Fee[]) => of.map(({ service, amount, every }) => ({ key: crypto.randomUUID(), service, fee: amount ?? '', every }));
	let rows = $state(untrack(() => typed(fees ?? ofRecord ?? [])));
	const amountOf = (fee: string) => feeAmount(fee, currency);
	function changed() {
		fees = rows
			.filter(({ service, fee }) => service.trim() !== '' || fee.trim() !== '')
			// what is no amount is kept as it was typed, and refused when it goes
			.map(({ service, fee, every }) => {
				const amount = amountOf(fee);
				return { service, amount: amount === undefined ? fee : amount, every };
			});
	}
	/** what is wrong with what stands in a field, while there is something */
	const wrongOf = (fee: string) => (amountOf(fee) === undefined ? 'Write a number, such as 280 or 280.50.' : '');
	function add() {
		rows.push({ key: crypto.randomUUID(), service: '', fee: '', every: 'month' });
	}
	const focus = (element: HTMLInputElement) => {
		if (element.value === '' && rows.length > 0 && fees !== null) element.focus();
	};
</script>

<section class="mt-3" aria-label="Fees in {title}">
	<h4 class="serif mb-0.5 text-lg font-semibold">Fees in this letter</h4>
	{#if ofRecord === null}
		<p class="text-sm text-(--half)">
			Each client’s own: the services of their engagements, with the fee that was agreed, or else the usual one of the service.
		</p>
	{:else}
		<p class="text-sm text-(--half)">
			{fees === null
				? 'As the client’s record has it. What you change here counts for this letter only.'
				: 'Changed for this letter; the client’s record stays as it is.'}
			{#if fees !== null}<button
					type="button"
					class="act-link"
					onclick={() => {
						fees = null;
						rows = typed(ofRecord);
					}}>As on the record again</button
				>{/if}
		</p>
		{#if rows.length === 0}<p class="mt-1 text-sm text-(--lamp-deep)">
				No services are on the record of this client yet. Add them here, or an engagement on the record.
			</p>{/if}
		<ul class="mt-1 text-sm">
			{#each rows as row, at (row.key)}
				<li class="flex flex-wrap items-baseline gap-x-3 gap-y-1 border-b border-(--rule) py-1">
					<input
						class="line-input !w-52 !py-0.5"
						aria-label="Service {at + 1}"
						maxlength="80"
						bind:value={
							() => row.service,
							(service) => {
								row.service = service;
								changed();
							}
						}
						{@attach focus}
					/>
					<FeeInput
						of={row.service || `service ${at + 1}`}
						{currency}
						bind:fee={
							() => row.fee,
							(fee) => {
								row.fee = fee;
								changed();
							}
						}
						bind:every={
							() => row.every,
							(every) => {
								row.every = every;
								changed();
							}
						}
						wrong={wrongOf(row.fee)}
					/>
					{#if row.fee.trim() === ''}<b class="text-(--lamp-deep)">still to fill in</b>{/if}
					<button
						type="button"
						class="act-link ml-auto"
						aria-label="Take {row.service || `row ${at + 1}`} out"
						onclick={() => {
							rows.splice(at, 1);
							changed();
						}}>take out</button
					>
				</li>
			{/each}
		</ul>
		{#if rows.length < FEES_MOST}<button type="button" class="act-link mt-1 text-sm" onclick={add}>Another service</button>{/if}
	{/if}
</section>
