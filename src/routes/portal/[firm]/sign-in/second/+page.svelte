<script lang="ts">
	import SecondStep from '$lib/ui/sign-in/SecondStep.svelte';

	let { data, form } = $props();
</script>

<SecondStep
	{...data}
	locale={data.locale}
	problem={form && 'problem' in form ? form.problem : undefined}
	texted={form !== null && 'texted' in form}
/>
