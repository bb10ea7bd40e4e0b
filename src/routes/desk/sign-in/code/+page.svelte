<script lang="ts">
	import LanternMark from '$lib/ui/desk/LanternMark.svelte';
	import MailedCode from '$lib/ui/sign-in/MailedCode.svelte';

	let { form } = $props();
</script>

<main class="mx-auto max-w-sm px-6 pt-[16vh] pb-12">
	<p class="flex items-center gap-2 text-(--half)"><LanternMark /> Humble Lantern</p>
	<MailedCode {form} locale="en" signIn="/desk/sign-in" />
</main>
