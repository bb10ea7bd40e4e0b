<script lang="ts">
	import PageProblem from '$lib/ui/PageProblem.svelte';
</script>

<PageProblem />
