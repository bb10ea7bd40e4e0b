<script lang="ts">
	import { sayer } from '$lib/words/words';
	import type { FormProblem } from '$lib/web/form-errors';
	import { answerWithPasskey } from './passkeys';

	/** The second step of signing in. */
	let {
		authenticator,
		phone,
		passkey,
		recoveryCodes,
		signIn,
		locale,
		problem,
		texted = false
	}: {
		authenticator: boolean;
		/** the end of the number that gets codes by text */ phone: string | null;
		passkey: Parameters<typeof answerWithPasskey>[0] | null;
		recoveryCodes: boolean;
		signIn: string;
		locale: string;
		problem?: FormProblem;
		/** a code was sent just now */ texted?: boolean;
	} = $props();
	const say = $derived(sayer(locale));
	// svelte-ignore state_referenced_locally
	let by = $state<'totp' | 'text' | 'recovery'>(
		texted || problem?.values.by === 'text' || problem?.values.by === 'ask_text'
			? 'text'
			: problem?.values.by === 'recovery'
				? 'recovery'
				: authenticator
					? 'totp'
					: phone
						? 'text'
						: 'recovery'
	);
	/** whoever has nothing else got a code at once */
	const sent = $derived(texted || problem?.values.by === 'text' || (phone !== null && !authenticator && !passkey));
	const lead = $derived(
		by === 'totp'
			? say('second.totp.lead')
			: by === 'text' && phone
				? say(sent ? 'second.text.sent' : 'second.text.lead', { phone })
				: passkey && !recoveryCodes
					? say('second.passkey.lead')
					: say('second.recovery.lead')
	);
	let passkeyForm: HTMLFormElement | undefined = $state();
	let answer = $state('');
	let own = $state('');
	let trust = $state(false);

	async function useKey() {
		own = '';
		answer = (passkey && (await answerWithPasskey(passkey))) ?? '';
		if (!answer) own = say('wrong.passkey');
		else {
			const field = passkeyForm!.elements.namedItem('answer') as HTMLInputElement;
			field.value = answer;
			passkeyForm!.submit();
		}
	}
</script>

<svelte:head><title>{say('second.title')}</title></svelte:head>
<div class="mx-auto w-full max-w-sm pt-4">
	<h1 class="text-3xl">{say('second.title')}</h1>
	<p class="mt-1 text-(--half)">
		{lead}
	</p>
	{#if problem?.code === 'link_unusable'}
		<p class="notice-wrong mt-4" role="alert">{problem.message}</p>
		<p class="mt-4"><a class="act" href={signIn}>{say('signIn.act')}</a></p>
	{:else}
		{#if problem || own}<p class="notice-wrong mt-4" role="alert">{own || problem?.message}</p>{/if}
		{#if passkey}
			<form method="post" class="mt-5" bind:this={passkeyForm}>
				<input type="hidden" name="by" value="passkey" />
				<input type="hidden" name="challengeId" value={passkey.challengeId} />
				<input type="hidden" name="answer" value={answer} />
				<input type="hidden" name="trust" value={trust ? 'yes' : ''} />
				<button type="button" class="act w-full" onclick={useKey}>{say('second.passkey.act')}</button>
			</form>
		{/if}
		{#if by === 'text' && !sent}
			<form method="post" class="mt-5">
				<input type="hidden" name="by" value="ask_text" />
				<button class="{passkey ? 'act-quiet' : 'act'} w-full">{say('second.text.send')}</button>
			</form>
		{:else if authenticator || by === 'text' || recoveryCodes}
			<form method="post" class="mt-5 space-y-4">
				<input type="hidden" name="by" value={by} />
				<!-- svelte-ignore a11y_autofocus -->
				<label class="field"
					><span>{say(by === 'totp' ? 'second.totp.code' : by === 'text' ? 'second.text.code' : 'second.recovery.code')}</span>{#key by}<input
							name="code"
							autocomplete="one-time-code"
							inputmode={by === 'recovery' ? 'text' : 'numeric'}
							maxlength="40"
							required
							autofocus
							aria-invalid={problem ? 'true' : undefined}
						/>{/key}</label
				>
				<label class="flex min-h-11 items-center gap-2"
					><input type="checkbox" name="trust" value="yes" bind:checked={trust} /> {say('second.trust')}</label
				>
				<button class="{passkey ? 'act-quiet' : 'act'} w-full">{say('second.act')}</button>
			</form>
		{/if}
		{#if by === 'text' && sent}
			<form method="post" class="mt-3">
				<input type="hidden" name="by" value="ask_text" /><button class="act-link">{say('second.text.again')}</button>
			</form>
		{/if}
		<p class="mt-4 flex flex-wrap gap-x-5">
			{#if authenticator && by !== 'totp'}<button type="button" class="act-link" onclick={() => (by = 'totp')}>{say('second.useTotp')}</button>{/if}
			{#if phone && by !== 'text'}<button type="button" class="act-link" onclick={() => (by = 'text')}>{say('second.useText')}</button>{/if}
			{#if recoveryCodes && by !== 'recovery'}<button type="button" class="act-link" onclick={() => (by = 'recovery')}
					>{say('second.useRecovery')}</button
				>{/if}
			<a class="act-link" href={signIn}>{say('second.back')}</a>
		</p>
	{/if}
</div>
