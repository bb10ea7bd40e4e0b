<script lang="ts">
	import { untrack } from 'svelte';
	import { deserialize } from '$app/forms';
	import { goto, invalidateAll } from '$app/navigation';
	import type { FormProblem } from '$lib/web/form-errors';
	import { sayer } from '$lib/words/words';
	import { copier } from '../forms/copier.svelte';
	import NewPassword from './NewPassword.svelte';
	import { makePasskey } from './passkeys';
	import RecoveryCodes from './RecoveryCodes.svelte';
	import SignedInPlaces from './SignedInPlaces.svelte';

	/** How somebody signs in, and where they are signed in. */
	let {
		you,
		locale,
		home
	}: {
		you: {
			name: string;
			email: string;
			mustSetUp: boolean;
			required: boolean;
			authenticator: boolean;
			text: boolean;
			phone: string | null;
			mayText: boolean;
			passkeys: number;
			recoveryCodes: number;
			keys: { id: string; name: string; madeAt: string; lastUsedAt: string | null }[];
			sessions: { id: string; device: string; ip: string; lastUsedAt: string; trustedUntil: string | null; here: boolean }[];
		};
		locale: string;
		home: string;
	} = $props();
	const say = $derived(sayer(locale));
	type Act = 'password' | 'text' | 'removeText' | 'authenticator' | 'removeAuthenticator' | 'passkey' | 'codes' | { removePasskey: string };
	let asking = $state<Act | null>(null);
	let ownPassword = $state('');
	let newPassword = $state('');
	let changed = $state(false);
	let keyName = $state('');
	let problem = $state('');
	let pending = $state(false);
	let setUp = $state<{ secret: string; picture: string; link: string } | null>(null);
	let phone = $state('');
	let texted = $state(false);
	let codes = $state<string[] | null>(null);
	/** led here before anything else: once it is done, on to where they wanted to go */
	const cameToSetUp = untrack(() => you.mustSetUp);

	async function post<Answer>(action: string, fields: Record<string, string>): Promise<Answer | null> {
		problem = '';
		pending = true;
		const body = new FormData();
		for (const [name, value] of Object.entries(fields)) body.set(name, value);
		const response = await fetch(`?/${action}`, { method: 'POST', body, headers: { 'x-sveltekit-action': 'true' } }).catch(() => null);
		const result = response && deserialize(await response.text());
		pending = false;
		if (result?.type === 'success') return (result.data ?? {}) as Answer;
		problem = result?.type === 'failure' ? (result.data?.problem as FormProblem).message : say('item.paper.lost');
		return null;
	}
	function begin(act: Act) {
		// pressed again it closes
		asking = JSON.stringify(asking) === JSON.stringify(act) ? null : act;
		setUp = null;
		texted = false;
		changed = false;
		ownPassword = newPassword = problem = '';
		keyName = '';
	}
	function shown(made: { codes: string[] | null } | null) {
		if (made?.codes) codes = made.codes;
	}
	/** The password is right or wrong; then what was asked for happens. */
	async function goOn(event: SubmitEvent) {
		event.preventDefault();
		const act = asking;
		if (act === 'authenticator') {
			setUp = (await post<{ authenticator: NonNullable<typeof setUp> }>('beginAuthenticator', { ownPassword }))?.authenticator ?? null;
			if (setUp) asking = null;
			return;
		}
		if (act === 'password') {
			changed = (await post('changePassword', { ownPassword, password: newPassword })) !== null;
			if (!changed) return;
			asking = null;
			ownPassword = newPassword = '';
			await invalidateAll();
			return;
		}
		if (act === 'text') {
			texted = (await post('beginText', { ownPassword, phone })) !== null;
			if (texted) asking = null;
			return;
		}
		if (act === 'passkey') {
			const begun = await post<{ passkey: Parameters<typeof makePasskey>[0] }>('beginPasskey', { ownPassword });
			if (!begun) return;
			const answer = await makePasskey(begun.passkey);
			if (!answer) return void (problem = say('wrong.passkey'));
			const kept = await post<{ codes: string[] | null }>('keepPasskey', { challengeId: begun.passkey.challengeId, answer, name: keyName });
			if (!kept) return;
			shown(kept);
		} else if (act === 'codes') {
			const made = await post<{ codes: string[] }>('newCodes', { ownPassword });
			if (!made) return;
			shown(made);
		} else if (act === 'removeAuthenticator') {
			if (!(await post('removeAuthenticator', { ownPassword }))) return;
		} else if (act === 'removeText') {
			if (!(await post('removeText', { ownPassword }))) return;
		} else if (act && typeof act === 'object') {
			if (!(await post('removePasskey', { ownPassword, passkeyId: act.removePasskey }))) return;
		}
		asking = null;
		await invalidateAll();
	}
	async function confirm(event: SubmitEvent) {
		event.preventDefault();
		const code = String(new FormData(event.target as HTMLFormElement).get('code'));
		const confirmed = await post<{ codes: string[] | null }>(setUp ? 'confirmAuthenticator' : 'confirmText', { code });
		if (!confirmed) return;
		setUp = null;
		texted = false;
		shown(confirmed);
		await invalidateAll();
	}
	const copy = copier();
	async function done() {
		codes = null;
		await invalidateAll();
		if (cameToSetUp) await goto(home);
	}
</script>

{#snippet password()}
	<form class="notice-lamp mt-2 space-y-3" onsubmit={goOn}>
		<input type="email" class="sr" autocomplete="username" value={you.email} readonly tabindex="-1" aria-hidden="true" />
		{#if problem}<p class="field-problem" role="alert">{problem}</p>{/if}
		{#if asking === 'passkey'}<label class="field"
				><span>{say('you.passkey.name')}</span><input bind:value={keyName} maxlength="60" placeholder={say('you.passkey.example')} /></label
			>{/if}
		{#if asking === 'text'}<!-- svelte-ignore a11y_autofocus --><label class="field"
				><span>{say('you.text.phone')}</span><input type="tel" autocomplete="tel" bind:value={phone} maxlength="40" required autofocus /></label
			>{/if}
		<!-- svelte-ignore a11y_autofocus -->
		<label class="field"
			><span>{say('you.ownPassword')}</span><input
				type="password"
				autocomplete="current-password"
				bind:value={ownPassword}
				required
				autofocus={asking !== 'passkey' && asking !== 'text'}
			/></label
		>
		{#if asking === 'password'}<NewPassword {locale} ownWords={[you.name, you.email]} bind:password={newPassword} />{/if}
		<div class="flex flex-wrap gap-2">
			<button class="act" disabled={pending}>{say(asking === 'password' ? 'you.password.save' : 'you.goOn')}</button>
			<button type="button" class="act-quiet" onclick={() => (asking = null)}>{say('you.leave')}</button>
		</div>
	</form>
{/snippet}

<h1 class="text-[1.65rem] leading-tight">{say('you.title')}</h1>
<p class="mt-1 text-(--half)">{you.name}, {you.email}</p>
{#if you.mustSetUp && !codes}<p class="notice-lamp mt-4">{say('you.mustSetUp')}</p>{/if}

{#if codes}<RecoveryCodes {codes} email={you.email} {locale} {done} />{/if}

<section class="mt-7" aria-labelledby="password">
	<h2 id="password" class="border-b border-(--rule-strong) pb-1 text-[1.1rem]">{say('you.password')}</h2>
	<div class="you-line">
		<p class="text-[0.9rem] text-(--half)">{say('you.password.text')}</p>
		<button class="act-link" aria-expanded={asking === 'password'} onclick={() => begin('password')}>{say('you.password.change')}</button>
	</div>
	{#if asking === 'password'}{@render password()}{/if}
	{#if changed}<p class="notice-lamp mt-2" role="status">{say('you.password.changed')}</p>{/if}
</section>

<section class="mt-7" aria-labelledby="second">
	<h2 id="second" class="border-b border-(--rule-strong) pb-1 text-[1.1rem]">{say('you.second')}</h2>
	<p class="mt-2 text-[0.92rem] text-(--half)">{say(you.required ? 'you.second.required' : 'you.second.text')}</p>

	<div class="you-line">
		<div>
			<b>{say('you.authenticator')}</b>
			<p class="text-[0.9rem] text-(--half)">{say(you.authenticator ? 'you.authenticator.on' : 'you.authenticator.off')}</p>
		</div>
		<span class="flex flex-wrap gap-x-4">
			<button class="act-link" aria-expanded={asking === 'authenticator'} onclick={() => begin('authenticator')}
				>{say(you.authenticator ? 'you.authenticator.another' : 'you.authenticator.setUp')}</button
			>
			{#if you.authenticator}<button class="act-link" aria-expanded={asking === 'removeAuthenticator'} onclick={() => begin('removeAuthenticator')}
					>{say('you.remove')}</button
				>{/if}
		</span>
	</div>
	{#if asking === 'authenticator' || asking === 'removeAuthenticator'}{@render password()}{/if}
	{#if setUp}
		<form class="notice-lamp mt-2" onsubmit={confirm}>
			<div class="flex flex-wrap gap-5">
				<img
					src={setUp.picture}
					alt={say('you.authenticator.picture')}
					width="220"
					height="220"
					class="aspect-square h-auto w-[220px] max-w-full shrink-0 self-start bg-white"
				/>
				<div class="min-w-0 flex-1 space-y-3">
					<p>{say('you.authenticator.scan')}</p>
					<p><a class="act-quiet w-full" href={setUp.link}>{say('you.authenticator.open')}</a></p>
					<p class="text-[0.9rem]">{say('you.authenticator.type')}<br /><span class="font-mono break-all">{setUp.secret}</span></p>
					<button type="button" class="act-link" onclick={() => copy.copy(setUp!.secret.replace(/\s/g, ''))}
						>{say(copy.copied ? 'you.copied' : 'you.authenticator.copy')}</button
					>
					{#if problem}<p class="field-problem" role="alert">{problem}</p>{/if}
					<label class="field"
						><span>{say('second.totp.code')}</span><input
							name="code"
							inputmode="numeric"
							autocomplete="one-time-code"
							maxlength="10"
							required
						/></label
					>
					<div class="flex flex-wrap gap-2">
						<button class="act" disabled={pending}>{say('you.authenticator.confirm')}</button>
						<button type="button" class="act-quiet" onclick={() => (setUp = null)}>{say('you.leave')}</button>
					</div>
				</div>
			</div>
		</form>
	{/if}

	{#if you.mayText || you.text}
		<div class="you-line">
			<div>
				<b>{say('you.text')}</b>
				<p class="text-[0.9rem] text-(--half)">{you.phone ? say('you.text.on', { phone: you.phone }) : say('you.text.off')}</p>
			</div>
			<span class="flex flex-wrap gap-x-4">
				{#if you.mayText}<button
						class="act-link"
						aria-label="{say('you.text')}: {say('you.text.setUp')}"
						aria-expanded={asking === 'text'}
						onclick={() => begin('text')}>{say(you.text ? 'you.text.another' : 'you.text.setUp')}</button
					>{/if}
				{#if you.text}<button
						class="act-link"
						aria-label="{say('you.remove')}: {say('you.text')}"
						aria-expanded={asking === 'removeText'}
						onclick={() => begin('removeText')}>{say('you.remove')}</button
					>{/if}
			</span>
		</div>
		{#if asking === 'text' || asking === 'removeText'}{@render password()}{/if}
		{#if texted}
			<form class="notice-lamp mt-2 space-y-3" onsubmit={confirm}>
				<p>{say('you.text.sent')}</p>
				{#if problem}<p class="field-problem" role="alert">{problem}</p>{/if}
				<!-- svelte-ignore a11y_autofocus -->
				<label class="field"
					><span>{say('second.text.code')}</span><input
						name="code"
						inputmode="numeric"
						autocomplete="one-time-code"
						maxlength="12"
						required
						autofocus
					/></label
				>
				<div class="flex flex-wrap gap-2">
					<button class="act" disabled={pending}>{say('you.text.confirm')}</button>
					<button type="button" class="act-quiet" onclick={() => (texted = false)}>{say('you.leave')}</button>
				</div>
			</form>
		{/if}
	{/if}

	{#each you.keys as key (key.id)}
		<div class="you-line">
			<div>
				<b>{key.name}</b>
				<p class="text-[0.9rem] text-(--half)">
					{say('you.passkey.made', { at: key.madeAt })}{key.lastUsedAt ? ` ${say('you.passkey.used', { at: key.lastUsedAt })}` : ''}
				</p>
			</div>
			<button
				class="act-link"
				aria-label="{say('you.remove')}: {key.name}"
				aria-expanded={typeof asking === 'object' && asking?.removePasskey === key.id}
				onclick={() => begin({ removePasskey: key.id })}>{say('you.remove')}</button
			>
		</div>
		{#if asking && typeof asking === 'object' && asking.removePasskey === key.id}{@render password()}{/if}
	{/each}
	<div class="you-line">
		<div>
			<b>{say('you.passkey')}</b>
			<p class="text-[0.9rem] text-(--half)">{say('you.passkey.text')}</p>
		</div>
		<button class="act-link" aria-expanded={asking === 'passkey'} onclick={() => begin('passkey')}>{say('you.passkey.add')}</button>
	</div>
	{#if asking === 'passkey'}{@render password()}{/if}

	{#if you.authenticator || you.text || you.passkeys > 0}
		<div class="you-line">
			<div>
				<b>{say('you.codes')}</b>
				<p class="text-[0.9rem] text-(--half)">{say('you.codes.left', { count: you.recoveryCodes })}</p>
			</div>
			<button class="act-link" aria-expanded={asking === 'codes'} onclick={() => begin('codes')}>{say('you.codes.new')}</button>
		</div>
		{#if asking === 'codes'}{@render password()}{/if}
	{/if}
</section>

<SignedInPlaces sessions={you.sessions} {locale} />
