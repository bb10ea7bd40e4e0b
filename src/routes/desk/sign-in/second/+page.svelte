<script lang="ts">
	import LanternMark from '$lib/ui/desk/LanternMark.svelte';
	import SecondStep from '$lib/ui/sign-in/SecondStep.svelte';

	let { data, form } = $props();
</script>

<main class="mx-auto max-w-sm px-6 pt-[16vh] pb-12">
	<p class="flex items-center gap-2 text-(--half)"><LanternMark /> Humble Lantern</p>
	<SecondStep {...data} locale="en" problem={form && 'problem' in form ? form.problem : undefined} texted={form !== null && 'texted' in form} />
</main>
