<script lang="ts">
	import { onMount } from 'svelte';
	import { invalidate } from '$app/navigation';
	import { clearedWith, countsInWords, COUNTS_OF, type Clearable } from '$lib/core/practice/clearing';
	import { enhancedForm } from '$lib/ui/forms/enhanced-form';
	import WholeSheet from '$lib/ui/desk/WholeSheet.svelte';

	let { data, form } = $props();
	let problem = $state('');
	let pending = $state(false);
	let chosen = $state<Clearable[]>([]);
	let sure = $state(false);
	const KIND_WORDS: Record<Clearable, string> = {
		requests: 'What was asked and handed in',
		messages: 'Messages and invitations',
		clients: 'Clients and people, with everything of theirs'
	};
	const goes = $derived(clearedWith(chosen));
	const counts = $derived(data.counts);
	const goesInWords = $derived(
		counts ? countsInWords(Object.fromEntries(goes.flatMap((kind) => COUNTS_OF[kind].map((what) => [what, counts[what]])))) : ''
	);
	const handling = {
		onPending: (p: boolean) => {
			pending = p;
			if (p) problem = '';
		},
		onProblem: (p: { message: string }) => (problem = p.message),
		onSuccess: async () => {
			chosen = [];
			sure = false;
			await invalidate('desk:practice');
		}
	};
	onMount(() => {
		const timer = setInterval(() => data.state === 'filling' && invalidate('desk:practice'), 1500);
		return () => clearInterval(timer);
	});
</script>

<svelte:head><title>Practice · {data.firm.name}</title></svelte:head>

<WholeSheet>
	<h1 class="text-[1.65rem] leading-tight">
		{data.inside ? 'Your practice workspace' : 'Practise before it counts'}
	</h1>
	<p class="mt-1 max-w-2xl text-[0.95rem] text-(--half)">
		A second workspace beside the real one, with made-up clients at every stage. Try everything: invite, ask, chase, sign. Mail and text messages stay
		in its Postroom and never leave the building.
	</p>
	{#if problem}<p class="notice-wrong mt-4 max-w-2xl" role="alert">{problem}</p>{/if}
	{#if form && 'cleared' in form}<p class="notice-lamp mt-4 max-w-2xl" role="status">Cleared: {form.cleared}.</p>{/if}

	{#if data.state === 'filling'}
		<p class="notice-lamp mt-5 max-w-2xl" role="status">
			It is being filled: {counts ? countsInWords(counts) : 'nothing'} so far. This takes less than a minute; you can go on with other things.
		</p>
	{:else if data.state === null || data.state === 'empty'}
		{#if data.mayPractise}
			<form method="post" action="?/{data.inside ? 'refill' : 'begin'}" class="mt-5" {@attach enhancedForm(handling)}>
				<button class="act" disabled={pending}>{data.state === null ? 'Set it up with made-up clients' : 'Fill it with made-up clients'}</button>
			</form>
		{:else}<p class="mt-5">Nobody has set it up yet. Your coordinator can.</p>{/if}
	{/if}
	{#if !data.inside && data.state !== null}
		<form method="post" action="?/enter" class="mt-5">
			<button class={data.state === 'ready' ? 'act' : 'act-quiet'}>Go to the practice workspace</button>
		</form>
		{#if counts && data.state === 'ready'}<p class="mt-2 text-[0.9rem] text-(--half)">There are {countsInWords(counts)} in it.</p>{/if}
	{/if}

	{#if data.inside && data.mayPractise && counts && data.state === 'ready'}
		<section class="mt-8 max-w-2xl" aria-labelledby="clear">
			<h2 id="clear" class="border-b border-(--rule-strong) pb-1 text-[1.1rem]">Clear it</h2>
			<form method="post" action="?/clear" {@attach enhancedForm(handling)}>
				<ul>
					{#each Object.entries(KIND_WORDS) as [kind, words] (kind)}
						{@const along = goes.includes(kind as Clearable) && !chosen.includes(kind as Clearable)}
						<li class="border-b border-(--rule) py-2">
							<label class="flex gap-2.5"
								>{#if along}<input type="checkbox" class="mt-1" checked disabled />{:else}<input
										type="checkbox"
										class="mt-1"
										name="kind"
										value={kind}
										bind:group={chosen}
									/>{/if}
								<span
									>{words}<br /><span class="text-[0.88rem] text-(--half)"
										>{countsInWords(Object.fromEntries(COUNTS_OF[kind as Clearable].map((what) => [what, counts[what]])))}{along
											? ', goes with the clients'
											: ''}</span
									></span
								></label
							>
						</li>
					{/each}
				</ul>
				{#if chosen.length > 0}
					<label class="mt-3 flex gap-2.5"
						><input type="checkbox" class="mt-1" name="sure" value="yes" bind:checked={sure} />
						<span>I am sure: <b>{goesInWords}</b> will go, and that cannot be undone.</span></label
					>
				{/if}
				<button class="act mt-4" disabled={pending || chosen.length === 0 || !sure}
					>{chosen.length === 0 ? 'Choose what to clear' : 'Clear it for good'}</button
				>
			</form>
		</section>
	{/if}
	{#if data.clearings.length > 0}
		<section class="mt-8 max-w-2xl" aria-labelledby="cleared">
			<h2 id="cleared" class="border-b border-(--rule-strong) pb-1 text-[1.1rem]">Cleared so far</h2>
			<ul>
				{#each data.clearings as clearing (clearing.id)}
					<li class="border-b border-(--rule) py-1.5 text-[0.9rem]">
						<span class="text-(--half)">{clearing.at}, {clearing.by}:</span>
						{clearing.what}
					</li>
				{/each}
			</ul>
		</section>
	{/if}
</WholeSheet>
