<script lang="ts">
	import ResetForm from '$lib/ui/sign-in/ResetForm.svelte';

	let { data, form } = $props();
</script>

<main class="px-6 py-12"><ResetForm locale="en" reset={data.reset} problem={form?.passwordProblem} forgotten="/desk/forgotten" /></main>
