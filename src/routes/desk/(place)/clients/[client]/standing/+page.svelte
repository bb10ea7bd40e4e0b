<script lang="ts">
	import RecurringSheet from '$lib/ui/asking/RecurringSheet.svelte';
	import WholeSheet from '$lib/ui/desk/WholeSheet.svelte';

	let { data } = $props();
	const begun = $derived({
		...data.begun,
		contactId: (data.client.contacts.find((c) => c.hasAccess) ?? data.client.contacts[0]).id,
		others: [],
		pattern: { every: 'month' as const, interval: 1, on: { by: 'day' as const, day: 1 } },
		rule: '',
		endsOn: null,
		times: null,
		at: data.opening,
		roll: 'following' as const,
		period: { kind: 'month' as const, shift: -1 },
		quiet: false,
		catchUp: 'last' as const
	});
</script>

<svelte:head><title>A standing request for {data.client.name} · {data.firm.name}</title></svelte:head>

{#snippet choice(href: string, list: { name: string; about: string; lines: number })}
	<li class="border-b border-(--rule) py-1.5 text-[0.9rem]">
		<a class="no-underline" {href} data-sveltekit-reload><b>{list.name}</b> <span class="text-(--half)">{list.about} {list.lines} lines</span></a>
	</li>
{/snippet}

{#if data.chosen}
	<RecurringSheet
		heading="A standing request for {data.client.name}"
		client={data.client}
		{begun}
		services={data.services}
		letter={data.letter}
		place={data.place}
		openLetters={data.openLetters}
		saveWords="Set it up"
	/>
{:else}
	<WholeSheet>
		<p class="text-sm"><a class="act-link" href="/desk/clients/{data.client.id}">Back to {data.client.name}</a></p>
		<h1 class="mt-1 text-[1.65rem] leading-tight">What should {data.client.name} be asked for regularly?</h1>
		<p class="mt-1 text-[0.9rem] text-(--half)">Begin with a list of the Library; it is copied. Letters are left out.</p>
		<h2 class="mt-5 text-[1rem]">The firm’s lists</h2>
		<ul>
			{#each data.lists as list (list.id)}{@render choice(`?list=${list.id}`, list)}{/each}
			<li class="border-b border-(--rule) py-1.5 text-[0.9rem]">
				<a class="no-underline" href="?empty" data-sveltekit-reload><b>From scratch</b></a>
			</li>
		</ul>
		<h2 class="mt-5 text-[1rem]">Ready-made</h2>
		<ul>
			{#each data.ready as list (list.id)}{@render choice(`?ready=${list.id}`, list)}{/each}
		</ul>
	</WholeSheet>
{/if}
