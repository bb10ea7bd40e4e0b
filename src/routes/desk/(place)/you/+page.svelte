<script lang="ts">
	import You from '$lib/ui/You.svelte';

	let { data } = $props();
</script>

<svelte:head><title>You · {data.firm.name}</title></svelte:head>
<main id="sheet" class="sheet" tabindex="-1"><div class="max-w-[52rem]"><You you={data.you} locale="en" home="/desk/rounds" /></div></main>

<style>
	.sheet {
		min-height: calc(100dvh - 47px);
		padding: 18px 28px 40px 110px;
		background: linear-gradient(90deg, transparent 86px, var(--margin-line) 86px, var(--margin-line) 87px, transparent 87px) var(--sheet);
		outline: none;
	}
	@media (max-width: 800px) {
		.sheet {
			padding-left: 18px;
			background: var(--sheet);
		}
	}
</style>
