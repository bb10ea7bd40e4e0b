<script lang="ts">
	import { sayer } from '$lib/words/words';
	import NewPassword from './NewPassword.svelte';

	let {
		locale,
		title,
		lead,
		problem,
		username,
		action,
		ownWords = []
	}: {
		locale: string;
		title: string;
		lead: string;
		problem: string | undefined;
		/** for whoever keeps passwords: whose it is */ username: string;
		action?: string;
		ownWords?: string[];
	} = $props();
	const say = $derived(sayer(locale));
</script>

<div class="mx-auto max-w-md pt-6">
	<h1 class="text-3xl">{title}</h1>
	<p class="mt-1 text-(--half)">{lead}</p>
	<form method="post" {action} class="mt-6 space-y-4">
		<input type="email" class="sr" autocomplete="username" value={username} readonly tabindex="-1" aria-hidden="true" />
		{#if problem}<p class="notice-wrong" role="alert">{problem}</p>{/if}
		<NewPassword {locale} {ownWords} />
		<button class="act w-full">{say('join.act')}</button>
	</form>
</div>
