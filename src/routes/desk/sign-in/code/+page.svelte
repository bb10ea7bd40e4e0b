<script lang="ts">
	import LanternMark from '$lib/ui/LanternMark.svelte';
	import MailedCode from '$lib/ui/MailedCode.svelte';

	let { form } = $props();
</script>

<main class="mx-auto grid min-h-dvh max-w-sm content-center px-6 py-12">
	<p class="flex items-center gap-2 text-(--half)"><LanternMark /> Humble Lantern</p>
	<MailedCode {form} locale="en" signIn="/desk/sign-in" />
</main>
