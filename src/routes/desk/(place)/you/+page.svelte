<script lang="ts">
	import WholeSheet from '$lib/ui/desk/WholeSheet.svelte';
	import You from '$lib/ui/sign-in/You.svelte';

	let { data } = $props();
</script>

<svelte:head><title>You · {data.firm.name}</title></svelte:head>
<WholeSheet><div class="max-w-[52rem]"><You you={data.you} locale="en" home="/desk/rounds" /></div></WholeSheet>
