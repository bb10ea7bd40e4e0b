<script lang="ts">
	import WholeSheet from '$lib/ui/desk/WholeSheet.svelte';
	import Asking from './Asking.svelte';

	let { data } = $props();
</script>

<svelte:head><title>Ask many · {data.firm.name}</title></svelte:head>

<WholeSheet>
	<p class="text-sm"><a class="act-link" href="/desk/clients">Clients</a></p>
	<!-- another file begins with a choice of its own -->
	{#key data.sheet?.id}<Asking {data} />{/key}
</WholeSheet>
