<script lang="ts">
	import ResetForm from '$lib/ui/sign-in/ResetForm.svelte';

	let { data, form } = $props();
</script>

<ResetForm locale={data.locale} reset={data.reset} problem={form?.passwordProblem} forgotten="{data.home}/forgotten" />
