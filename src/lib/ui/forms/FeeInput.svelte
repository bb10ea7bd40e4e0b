<script lang="ts">
	import { FEE_RHYTHM_WORDS, FEE_RHYTHMS, type FeeRhythm } from '$lib/core/letters/fees';

	/** What one service costs: an amount, and how often it falls due. */
	let {
		of,
		currency,
		fee = $bindable(),
		every = $bindable(),
		names = { fee: undefined, every: undefined },
		placeholder = '',
		wrong = ''
	}: {
		/** the service, for who does not see where the field stands */ of: string;
		currency: string;
		fee: string;
		every: FeeRhythm;
		/** under which it goes with a form */ names?: { fee?: string; every?: string };
		placeholder?: string;
		wrong?: string;
	} = $props();
	const id = $props.id();
</script>

<span class="inline-flex flex-wrap items-baseline gap-x-1.5 gap-y-1">
	<input
		class="line-input !w-28 !py-0.5 text-right"
		name={names.fee}
		bind:value={fee}
		inputmode="decimal"
		maxlength="24"
		autocomplete="off"
		{placeholder}
		aria-label="Fee for {of}, in {currency}"
		aria-invalid={wrong ? 'true' : undefined}
		aria-describedby={wrong ? `${id}-wrong` : undefined}
	/>
	<span class="text-(--half)" aria-hidden="true">{currency}</span>
	<select class="line-input !w-auto !py-0.5" name={names.every} bind:value={every} aria-label="How often the fee for {of} falls due">
		{#each FEE_RHYTHMS as rhythm (rhythm)}<option value={rhythm}>{FEE_RHYTHM_WORDS[rhythm]}</option>{/each}
	</select>
	{#if wrong}<span class="field-problem basis-full" id="{id}-wrong">{wrong}</span>{/if}
</span>
