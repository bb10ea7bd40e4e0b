<script lang="ts">
	import ForgottenForm from '$lib/ui/sign-in/ForgottenForm.svelte';

	let { form } = $props();
</script>

<main class="px-6 py-12"><ForgottenForm locale="en" {form} back="/desk/sign-in" /></main>
