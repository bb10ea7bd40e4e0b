<script lang="ts">
	import PageProblem from '$lib/ui/PageProblem.svelte';
	import WholeSheet from '$lib/ui/desk/WholeSheet.svelte';
</script>

<WholeSheet><PageProblem /></WholeSheet>
