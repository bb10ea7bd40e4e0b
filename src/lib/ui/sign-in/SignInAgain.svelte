<script lang="ts">
	import { onMount, tick } from 'svelte';
	import { deserialize } from '$app/forms';
	import { preloadData } from '$app/navigation';
	import type { FormProblem } from '$lib/web/form-errors';
	import { sayer } from '$lib/words/words';
	import PasskeyButton from './PasskeyButton.svelte';
	import { offerSignIn } from './sign-in-again';

	/** Signing in again in place, when the session has ended under somebody's hands: nothing on the page is lost, and what was refused is sent. */
	let {
		person,
		signIn,
		stillHere,
		locale
	}: {
		person: { id: string; email: string };
		/** address of the sign-in page */ signIn: string;
		/** address that tells who is signed in */ stillHere: string;
		locale: string;
	} = $props();
	const say = $derived(sayer(locale));
	let dialog: HTMLDialogElement;
	let open = $state(false);
	let password = $state('');
	let code = $state('');
	let second = $state<'totp' | 'text' | 'recovery' | null>(null);
	let problem = $state('');
	let pending = $state(false);
	let settle: ((inAgain: boolean) => void) | undefined;
	let fields = $state<HTMLElement>();

	onMount(() =>
		offerSignIn(() => {
			password = code = problem = '';
			second = null;
			open = true;
			void tick().then(() => dialog.showModal());
			return new Promise((resolve) => (settle = resolve));
		})
	);
	function end(inAgain: boolean) {
		settle?.(inAgain);
		settle = undefined;
		dialog.close();
	}
	/** What was typed is sent as the person who typed it, never as somebody else who came in meanwhile. */
	async function checkPerson() {
		const answer = await fetch(stillHere).catch(() => null);
		const now = answer?.ok ? ((await answer.json()) as { person: string | null }).person : null;
		if (now === person.id) end(true);
		else problem = say(now ? 'again.otherPerson' : 'again.notYet', { email: person.email });
	}
	async function post(to: string, values: Record<string, string>) {
		const body = new FormData();
		for (const [name, value] of Object.entries(values)) body.set(name, value);
		const answer = await fetch(to, { method: 'POST', body, headers: { 'x-sveltekit-action': 'true' } }).catch(() => null);
		return answer && deserialize(await answer.text().catch(() => ''));
	}
	async function send(event: SubmitEvent) {
		event.preventDefault();
		if (pending) return;
		pending = true;
		problem = '';
		try {
			const result = second ? await post(`${signIn}/second`, { by: second, code }) : await post(signIn, { email: person.email, password });
			if (result?.type === 'failure') problem = (result.data as { problem: FormProblem }).problem.message;
			else if (result?.type !== 'redirect') problem = say('again.lost');
			else if (new URL(result.location, location.href).pathname === `${signIn}/second`) {
				const asked = await preloadData(`${signIn}/second`);
				const offered = asked.type === 'loaded' ? (asked.data as { authenticator: boolean; phone: string | null }) : null;
				second = offered?.authenticator ? 'totp' : offered?.phone ? 'text' : 'recovery';
				if (second === 'text') await post(`${signIn}/second`, { by: 'ask_text' });
				await tick();
				fields?.querySelector('input')?.focus();
			} else await checkPerson();
		} finally {
			pending = false;
		}
	}
</script>

<dialog
	class="sheet-dialog"
	aria-labelledby="again-title"
	bind:this={dialog}
	onclose={() => {
		open = false;
		if (settle) end(false);
	}}
	data-not-kept
>
	{#if open}
		<h2 id="again-title" class="text-xl">{say('again.title')}</h2>
		<p class="mt-1 text-(--half)">{say('again.lead')}</p>
		<form class="mt-4 space-y-3" onsubmit={send}>
			{#if problem}<p class="notice-wrong" role="alert">{problem}</p>{/if}
			<p class="text-[0.95rem]"><span class="text-(--half)">{say('signIn.email')}:</span> {person.email}</p>
			<input type="hidden" autocomplete="username" value={person.email} />
			<div bind:this={fields}>
				{#if second}
					<label class="field"
						><span>{say(second === 'totp' ? 'second.totp.code' : second === 'text' ? 'second.text.code' : 'second.recovery.code')}</span><input
							bind:value={code}
							autocomplete="one-time-code"
							inputmode={second === 'recovery' ? 'text' : 'numeric'}
							maxlength="40"
							required
						/></label
					>
				{:else}
					<!-- svelte-ignore a11y_autofocus -->
					<label class="field"
						><span>{say('signIn.password')}</span><input
							bind:value={password}
							type="password"
							autocomplete="current-password"
							required
							autofocus
						/></label
					>
				{/if}
			</div>
			<div class="flex flex-wrap gap-2">
				<button class="act" disabled={pending}>{say('again.act')}</button>
				<button type="button" class="act-quiet" onclick={() => dialog.close()}>{say('again.leave')}</button>
			</div>
		</form>
		{#if !second}<div class="mt-3"><PasskeyButton {signIn} {locale} onSignedIn={checkPerson} /></div>{/if}
		<p class="mt-3 flex flex-wrap items-baseline gap-x-5 text-sm">
			<a class="act-link" href={signIn} target="_blank" rel="external">{say('again.elsewhere')}</a>
			<button type="button" class="act-link" onclick={checkPerson}>{say('again.goOn')}</button>
		</p>
	{/if}
</dialog>
