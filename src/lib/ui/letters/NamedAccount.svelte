<script lang="ts">
	import type { NamedAccount, PaymentAuthorisation } from '$lib/server/signing/payment-authorisations';
	import { timeWords } from '$lib/words/dates';
	import { askDesk } from '../desk/ask-desk';

	/** An account that was named in a letter: its numbers come when they are asked for, and each look is in the history. */
	let {
		itemId,
		version,
		authorisation,
		may,
		timeZone
	}: {
		itemId: string;
		version: number;
		authorisation: PaymentAuthorisation;
		/** whoever reads it may see it */ may: boolean;
		timeZone: string;
	} = $props();
	let account = $state<NamedAccount | null>(null);
	let sure = $state(false);
	let problem = $state('');
	let gone = $state(false);
	const ask = (act: string) => {
		problem = '';
		return askDesk<{ answer?: NamedAccount }>(
			`/desk/items/${itemId}?/${act}`,
			{ version: String(version), id: authorisation.id },
			(message) => (problem = message)
		);
	};
	async function show() {
		account = (await ask('showAccount'))?.answer ?? null;
	}
	async function remove() {
		if (!(await ask('removeAccount'))) return;
		account = null;
		gone = true;
	}
</script>

<div class="text-sm">
	<p>
		<b>{authorisation.by}</b> named an account for the fees {timeWords('en', authorisation.givenAt, timeZone)}{authorisation.signed
			? ''
			: '; it counts when all have signed'}.
		{#if gone}It was removed.
		{:else if may && account === null}<button type="button" class="act-link" onclick={show}>Show the account</button>
			<span class="text-xs text-(--half)">Each look is in the history.</span>{/if}
	</p>
	{#if problem}<p class="field-problem" role="alert">{problem}</p>{/if}
	{#if account}
		<dl class="mt-1 grid grid-cols-[max-content_1fr] gap-x-4 gap-y-0.5 border border-(--lamp-edge) bg-(--sheet) p-3" aria-live="polite">
			<dt class="text-(--half)">Account holder</dt>
			<dd>{account.holder}</dd>
			{#if account.routing}<dt class="text-(--half)">Bank number</dt>
				<dd class="font-mono select-all">{account.routing}</dd>{/if}
			<dt class="text-(--half)">Account</dt>
			<dd class="font-mono break-all select-all">{account.account}</dd>
		</dl>
		<p class="mt-1 flex flex-wrap gap-x-4">
			<button type="button" class="act-link" onclick={() => (account = null)}>Hide it</button>
			{#if sure}<span>It cannot be brought back. <button type="button" class="act-link" onclick={remove}>Remove the account</button></span>
			{:else}<button type="button" class="act-link" onclick={() => (sure = true)}>Remove it for good …</button>{/if}
		</p>
	{/if}
</div>
