<script lang="ts">
	import { onMount } from 'svelte';
	import { sayer } from '$lib/words/words';
	import { answerWithPasskey, canUsePasskeys } from './passkeys';

	/** Signing in with a passkey alone. */
	let {
		signIn,
		locale,
		onSignedIn
	}: {
		/** address of the sign-in page */ signIn: string;
		locale: string;
		/** told instead of leading on to where somebody signed in goes */ onSignedIn?: () => void | Promise<void>;
	} = $props();
	const say = $derived(sayer(locale));
	let offered = $state(false);
	let pending = $state(false);
	let problem = $state('');
	onMount(() => (offered = canUsePasskeys()));

	async function post(body: unknown): Promise<Record<string, unknown>> {
		const answer = await fetch(`${signIn}/passkey${location.search}`, {
			method: 'POST',
			body: JSON.stringify(body),
			headers: { 'content-type': 'application/json' }
		});
		return (await answer.json()) as Record<string, unknown>;
	}
	async function go() {
		problem = '';
		pending = true;
		try {
			const asked = (await post({ ask: true })) as unknown as Parameters<typeof answerWithPasskey>[0];
			const answer = await answerWithPasskey(asked);
			const said = answer ? await post({ challengeId: asked.challengeId, answer }) : { message: say('wrong.passkey') };
			if (typeof said.to === 'string') return onSignedIn ? await onSignedIn() : location.assign(said.to);
			problem = String(said.message);
		} catch {
			problem = say('wrong.passkey');
		} finally {
			pending = false;
		}
	}
</script>

<!-- its place is kept from the beginning: what comes later moves the other button away from under the finger -->
<button type="button" class="act-quiet w-full" class:invisible={!offered} disabled={pending} onclick={go}>{say('signIn.passkey')}</button>
{#if problem}<p class="field-problem" role="alert">{problem}</p>{/if}
