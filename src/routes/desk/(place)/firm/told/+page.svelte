<script lang="ts">
	import WholeSheet from '$lib/ui/desk/WholeSheet.svelte';
	import TellingForm from '$lib/ui/telling/TellingForm.svelte';

	let { data } = $props();
	let said = $state('');
</script>

<svelte:head><title>What your people are told · {data.firm.name}</title></svelte:head>

<WholeSheet>
	<p class="text-sm"><a class="act-link" href="/desk/firm">Firm</a></p>
	<h1 class="text-[1.65rem] leading-tight">What your people are told</h1>
	<p class="mt-1 max-w-[44rem] text-[0.9rem] text-(--half)">
		By e-mail, about what clients do and what waits. This holds for everybody who has not chosen for themselves, which each of them can do under their
		name at the top. Nobody hears of clients that are closed to them, or of what their role cannot deal with.
	</p>
	<div class="mt-4 max-w-[46rem]">
		{#if data.maySetUp}<TellingForm
				telling={data.usual}
				kinds={data.kinds}
				words={{ mine: 'those each looks after', all: 'all that each may see' }}
				action="?/save"
				label="How the firm tells its people"
				saved="Saved. This is usual from now on."
				bind:said
			/>
		{:else}<p class="notice-lamp">An administrator of the firm can change what is usual.</p>{/if}
	</div>
	<h2 class="mt-7 text-[1.15rem]">Everybody, as it is now</h2>
	<ul class="mt-1 max-w-[46rem] text-[0.9rem]">
		{#each data.people as person (person.id)}<li class="flex flex-wrap items-baseline gap-x-3 border-b border-(--rule) py-1.5">
				<b>{person.name}</b><span>{person.words}</span>{#if person.own}<span class="ml-auto text-(--half)">chose it themselves</span>{/if}
			</li>{/each}
	</ul>
</WholeSheet>
