<script lang="ts">
	import PasswordForm from '$lib/ui/PasswordForm.svelte';
	import { sayer } from '$lib/words/words';

	let { data, form } = $props();
	const locale = $derived(data.locale);
	const say = $derived(sayer(locale));
</script>

<svelte:head><title>{say('reset.title')}</title></svelte:head>

{#if data.reset}
	<PasswordForm
		{locale}
		title={say('reset.title')}
		lead={data.reset.email}
		problem={form?.passwordProblem}
		ownWords={[data.reset.name, data.reset.email]}
	/>
{:else}
	<div class="mx-auto max-w-md pt-8">
		<h1 class="text-3xl">{say('reset.unusable')}</h1>
		<p class="mt-2">{say('reset.unusableText')}</p>
		<a class="act mt-5" href={data.forgotten}>{say('reset.act')}</a>
	</div>
{/if}
