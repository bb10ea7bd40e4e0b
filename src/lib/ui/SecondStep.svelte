<script lang="ts">
	import { sayer } from '$lib/words/words';
	import type { FormProblem } from '$lib/server/form-errors';
	import { answerWithPasskey } from './passkeys';

	/** The second step of signing in. */
	let {
		authenticator,
		passkey,
		recoveryCodes,
		signIn,
		locale,
		problem
	}: {
		authenticator: boolean;
		passkey: Parameters<typeof answerWithPasskey>[0] | null;
		recoveryCodes: boolean;
		signIn: string;
		locale: string;
		problem?: FormProblem;
	} = $props();
	const say = $derived(sayer(locale));
	// svelte-ignore state_referenced_locally
	let by = $state<'totp' | 'recovery'>(problem?.values.by === 'recovery' || !authenticator ? 'recovery' : 'totp');
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
		{say(authenticator ? (by === 'totp' ? 'second.totp.lead' : 'second.recovery.lead') : passkey ? 'second.passkey.lead' : 'second.recovery.lead')}
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
		{#if authenticator || by === 'recovery'}
			<form method="post" class="mt-5 space-y-4">
				<input type="hidden" name="by" value={by} />
				<!-- svelte-ignore a11y_autofocus -->
				<label class="field"
					><span>{say(by === 'totp' ? 'second.totp.code' : 'second.recovery.code')}</span>{#key by}<input
							name="code"
							autocomplete="one-time-code"
							inputmode={by === 'totp' ? 'numeric' : 'text'}
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
		<p class="mt-4 flex flex-wrap gap-x-5">
			{#if recoveryCodes && by === 'totp'}<button type="button" class="act-link" onclick={() => (by = 'recovery')}>{say('second.useRecovery')}</button
				>
			{:else if authenticator && by === 'recovery'}<button type="button" class="act-link" onclick={() => (by = 'totp')}
					>{say('second.useTotp')}</button
				>{/if}
			<a class="act-link" href={signIn}>{say('second.back')}</a>
		</p>
	{/if}
</div>
