<script lang="ts">
	import AddressField from './AddressField.svelte';
	import { sayer } from '$lib/words/words';
	import type { FormProblem } from '$lib/web/form-errors';

	let { locale, form, back }: { locale: string; form: { sent?: boolean; problem?: FormProblem } | null; back: string } = $props();
	const say = $derived(sayer(locale));
</script>

<svelte:head><title>{say('reset.title')}</title></svelte:head>
<div class="mx-auto max-w-sm pt-6">
	<h1 class="text-3xl">{say('reset.title')}</h1>
	{#if form?.sent}
		<p class="mt-4" role="status">{say('reset.sent')}</p>
	{:else}
		<p class="mt-1 text-(--half)">{say('reset.ask')}</p>
		<form method="post" class="mt-6 space-y-4">
			{#if form?.problem}<p class="notice-wrong" role="alert">{form.problem.message}</p>{/if}
			<AddressField {locale} value={form?.problem?.values.email} />
			<button class="act w-full">{say('reset.act')}</button>
		</form>
	{/if}
	<p class="mt-4"><a class="act-link" href={back}>{say('reset.back')}</a></p>
</div>
