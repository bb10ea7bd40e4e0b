<script lang="ts">
	import ForgottenForm from '$lib/ui/sign-in/ForgottenForm.svelte';

	let { data, form } = $props();
</script>

<ForgottenForm locale={data.locale} {form} back="{data.home}/sign-in" />
