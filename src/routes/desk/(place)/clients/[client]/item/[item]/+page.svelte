<script lang="ts">
	import ItemLeaf from '$lib/ui/desk/ItemLeaf.svelte';

	let { data } = $props();
</script>

<svelte:head><title>{data.leaf.item.title} · {data.client.name}</title></svelte:head>
<p class="px-5 pt-4 text-sm"><a class="act-link" href="/desk/clients/{data.client.id}" data-sveltekit-noscroll>Back to {data.client.name}</a></p>
<ItemLeaf leaf={data.leaf} timeZone={data.firm.timeZone} person={data.person} />
