<script lang="ts">
	import { sayer } from '$lib/words/words';
	import PasswordForm from './PasswordForm.svelte';

	let {
		locale,
		reset,
		problem,
		forgotten
	}: {
		locale: string;
		reset: { name: string; email: string } | null;
		problem: string | undefined;
		/** where to ask for another link */ forgotten: string;
	} = $props();
	const say = $derived(sayer(locale));
</script>

<svelte:head><title>{say('reset.title')}</title></svelte:head>
{#if reset}
	<PasswordForm {locale} username={reset.email} title={say('reset.title')} lead={reset.email} {problem} ownWords={[reset.name, reset.email]} />
{:else}
	<div class="mx-auto max-w-md pt-8">
		<h1 class="text-3xl">{say('reset.unusable')}</h1>
		<p class="mt-2">{say('reset.unusableText')}</p>
		<a class="act mt-5" href={forgotten}>{say('reset.act')}</a>
	</div>
{/if}
