<script lang="ts">
	import { greeted } from '$lib/core/letters/merge-fields';
	import PasswordForm from '$lib/ui/sign-in/PasswordForm.svelte';
	import { sayer } from '$lib/words/words';

	let { data, form } = $props();
	const say = $derived(sayer(data.locale));
	const STATE_KEYS = { taken_up: 'used', expired: 'expired', withdrawn: 'withdrawn', replaced: 'replaced', unknown: 'unknown' } as const;
</script>

<svelte:head><title>{data.brand.name}</title></svelte:head>
{#if data.state === 'sent'}
	<PasswordForm
		locale={data.locale}
		title={say('join.title', greeted(data.name))}
		lead={say('join.lead', { firm: data.brand.name, email: data.email })}
		problem={form && 'passwordProblem' in form ? form.passwordProblem : undefined}
		username={data.email}
		action="?/join"
		ownWords={[data.name, data.email, data.brand.name]}
	/>
{:else}
	{@const key = STATE_KEYS[data.state]}
	<div class="mx-auto max-w-md pt-8">
		<h1 class="text-3xl">{say(`join.${key}.title`)}</h1>
		<p class="mt-2">{say(`join.${key}.text`, { firm: data.brand.name })}</p>
		{#if form && 'asked' in form}<p class="notice-lamp mt-5" role="status">{say('join.asked', { firm: data.brand.name })}</p>
		{:else if data.state === 'expired' || data.state === 'withdrawn'}
			<form method="post" action="?/sendAgain" class="mt-5"><button class="act">{say('join.askAgain')}</button></form>
		{/if}
		{#if data.state === 'taken_up'}<a class="act mt-5" href="{data.home}/sign-in">{say('signIn.act')}</a>{/if}
	</div>
{/if}
