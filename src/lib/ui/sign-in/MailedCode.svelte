<script lang="ts">
	import AddressField from './AddressField.svelte';
	import { sayer } from '$lib/words/words';
	import type { FormProblem } from '$lib/web/form-errors';

	/** Signing in with a code that comes by mail. */
	let { form, locale, signIn }: { form: { asked?: string; problem?: FormProblem } | null; locale: string; signIn: string } = $props();
	const say = $derived(sayer(locale));
	const waits = $derived(
		form?.asked !== undefined || (form?.problem !== undefined && 'code' in form.problem.values && form.problem.code !== 'link_unusable')
	);
</script>

<svelte:head><title>{say('code.title')}</title></svelte:head>
<div class="mx-auto w-full max-w-sm pt-4">
	<h1 class="text-3xl">{say('code.title')}</h1>
	{#if waits}
		<p class="mt-1 text-(--half)">{say('code.sent')}</p>
		<form method="post" action="?/take" class="mt-5 space-y-4">
			{#if form?.problem}<p class="notice-wrong" role="alert">{form.problem.message}</p>{/if}
			<!-- svelte-ignore a11y_autofocus -->
			<label class="field"
				><span>{say('code.code')}</span><input
					name="code"
					autocomplete="one-time-code"
					inputmode="numeric"
					maxlength="20"
					required
					autofocus
					aria-invalid={form?.problem ? 'true' : undefined}
				/></label
			>
			<button class="act w-full">{say('signIn.act')}</button>
		</form>
		<p class="mt-4"><a class="act-link" href="{signIn}/code">{say('code.again')}</a></p>
	{:else}
		<p class="mt-1 text-(--half)">{say('code.lead')}</p>
		<form method="post" action="?/ask" class="mt-5 space-y-4">
			{#if form?.problem}<p class="notice-wrong" role="alert">{form.problem.message}</p>{/if}
			<AddressField {locale} value={form?.problem?.values.email} />
			<button class="act w-full">{say('code.act')}</button>
		</form>
		<p class="mt-4"><a class="act-link" href={signIn}>{say('second.back')}</a></p>
	{/if}
</div>
