<script lang="ts">
	import MailedCode from '$lib/ui/sign-in/MailedCode.svelte';

	let { data, form } = $props();
</script>

<MailedCode {form} locale={data.locale} signIn={`${data.home}/sign-in`} />
