<script lang="ts">
	import AddressField from '$lib/ui/sign-in/AddressField.svelte';
	import Welcome from '$lib/ui/portal/Welcome.svelte';
	import PasskeyButton from '$lib/ui/sign-in/PasskeyButton.svelte';
	import { sayer } from '$lib/words/words';

	let { data, form } = $props();
	const say = $derived(sayer(data.locale));
</script>

<svelte:head><title>{say('signIn.title')} · {data.brand.name}</title></svelte:head>
<div class="mx-auto max-w-sm pt-6">
	<h1 class="text-3xl">{say('signIn.title')}</h1>
	<p class="mt-1 text-(--half)">{say('signIn.lead', { firm: data.brand.name })}</p>
	<div class="mt-3"><Welcome welcome={data.brand.welcome} locale={data.locale} /></div>
	<form method="post" class="mt-6 space-y-4">
		{#if form?.problem}<p class="notice-wrong" role="alert">{form.problem.message}</p>{/if}
		<AddressField locale={data.locale} value={form?.problem?.values.email} />
		<label class="field"
			><span>{say('signIn.password')}</span><input name="password" type="password" autocomplete="current-password" required /></label
		>
		<button class="act w-full">{say('signIn.act')}</button>
	</form>
	<div class="mt-3"><PasskeyButton signIn="{data.home}/sign-in" locale={data.locale} /></div>
	<p class="mt-3 flex flex-wrap gap-x-5">
		<a class="act-link" href="{data.home}/sign-in/code">{say('signIn.code')}</a>
		<a class="act-link" href="{data.home}/forgotten">{say('signIn.forgot')}</a>
		<a class="act-link" href="{data.home}/help">{say('help.link')}</a>
	</p>
	<p class="mt-6 text-sm text-(--half)">{say('signIn.onlyInvited', { firm: data.brand.name })}</p>
</div>
