<script lang="ts">
	import { firstName } from '$lib/core/letters/merge-fields';
	import PasswordForm from '$lib/ui/PasswordForm.svelte';
	import { sayer } from '$lib/words/words';

	let { data, form } = $props();
	const say = $derived(sayer(data.locale));
	const STATE_KEYS = { taken_up: 'used', expired: 'expired', withdrawn: 'withdrawn', replaced: 'replaced', unknown: 'unknown' } as const;
</script>

<svelte:head><title>{data.brand.name}</title></svelte:head>
{#if data.state === 'sent'}
	<PasswordForm
		locale={data.locale}
		title={say('join.title', { name: firstName(data.name) })}
		lead={say('join.lead', { firm: data.brand.name, email: data.email })}
		problem={form?.passwordProblem}
		ownWords={[data.name, data.email, data.brand.name]}
	/>
{:else}
	{@const key = STATE_KEYS[data.state]}
	<div class="mx-auto max-w-md pt-8">
		<h1 class="text-3xl">{say(`join.${key}.title`)}</h1>
		<p class="mt-2">{say(`join.${key}.text`, { firm: data.brand.name })}</p>
		{#if data.state === 'taken_up'}<a class="act mt-5" href="{data.home}/sign-in">{say('signIn.act')}</a>{/if}
	</div>
{/if}
