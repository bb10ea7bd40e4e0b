<script lang="ts">
	import SignInAgain from '$lib/ui/sign-in/SignInAgain.svelte';

	let { data, children } = $props();
</script>

{@render children()}

{#if !data.person.lookedAtBy}
	<SignInAgain person={data.person} signIn="{data.home}/sign-in" stillHere="{data.home}/still-here" locale={data.locale} />
{/if}
