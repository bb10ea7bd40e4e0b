<script lang="ts">
	import LanternMark from '$lib/ui/LanternMark.svelte';
	import SecondStep from '$lib/ui/SecondStep.svelte';

	let { data, form } = $props();
</script>

<main class="mx-auto grid min-h-dvh max-w-sm content-center px-6 py-12">
	<p class="flex items-center gap-2 text-(--half)"><LanternMark /> Humble Lantern</p>
	<SecondStep {...data} locale="en" problem={form && 'problem' in form ? form.problem : undefined} texted={form !== null && 'texted' in form} />
</main>
