<script lang="ts">
	import PageProblem from '$lib/ui/PageProblem.svelte';
</script>

<main tabindex="-1"><PageProblem /></main>
