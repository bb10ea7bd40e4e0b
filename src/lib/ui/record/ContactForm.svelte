<script lang="ts">
	import type { KnownContact } from '$lib/server/clients/add-client';
	import { page } from '$app/state';
	import type { Channels } from '$lib/core/messages/ways';
	import { LANGUAGE_CODES, LANGUAGES, type Language } from '$lib/core/people/languages';
	import { askDesk } from '../desk/ask-desk';
	import { enhancedForm } from '../forms/enhanced-form';
	import FieldProblem from '../forms/FieldProblem.svelte';

	let {
		clientId,
		contact = null,
		phone = '',
		plans = [],
		done
	}: {
		clientId: string;
		/** who is changed; null to add somebody */ contact?: {
			id: string;
			name: string;
			email: string | null;
			role: string;
			channels: Channels;
			locale: Language;
			chasePlan: string | null;
		} | null;
		phone?: string | null;
		/** the plans by which somebody can be chased */ plans?: readonly { key: string; name: string; words: string }[];
		done: () => void;
	} = $props();
	let pending = $state(false);
	let problem = $state('');
	let fields = $state<Record<string, string>>({});
	let known = $state<KnownContact | null>(null);
	let knownId = $state('');
	let noMailAt = $state<string | null>(null);
	// svelte-ignore state_referenced_locally
	let name = $state(contact?.name ?? '');
	// svelte-ignore state_referenced_locally
	let email = $state(contact?.email ?? '');
	const key = $derived(contact?.id ?? 'new');

	/** Is this somebody we know? Asked as soon as the address is written. */
	async function lookUp() {
		noMailAt = null;
		if (knownId || !email.includes('@') || email === contact?.email) return;
		const answer = await askDesk<{ known: KnownContact | null; noMailAt: string | null }>('/desk/clients/new?/findKnown', { email });
		noMailAt = answer?.noMailAt ?? null;
		if (!contact) known = answer?.known ?? null;
	}
	function take(person: KnownContact) {
		knownId = person.id;
		name = person.name;
		email = person.email ?? '';
		known = null;
	}
</script>

<form
	method="post"
	action="/desk/clients/{clientId}?/{contact ? 'changeContact' : 'addContact'}"
	class="space-y-3 py-2"
	{@attach enhancedForm({
		onPending: (p) => (pending = p),
		onProblem: (p) => {
			problem = p.message;
			fields = p.fields;
			if (p.fields.known) known = JSON.parse(p.fields.known);
		},
		onSuccess: done
	})}
>
	{#if problem && !known}<p class="notice-wrong" role="alert">{problem}</p>{/if}
	{#if contact}<input type="hidden" name="contactId" value={contact.id} />{:else}<input type="hidden" name="knownId" value={knownId} />{/if}
	<div class="grid gap-3 sm:grid-cols-2">
		<div>
			<label class="field"
				><span>Name</span><!-- svelte-ignore a11y_autofocus --><input
					name="name"
					bind:value={name}
					autofocus
					readonly={knownId !== ''}
					maxlength="200"
					autocomplete="off"
					aria-invalid={fields.name ? 'true' : undefined}
				/></label
			>
			<FieldProblem id="name-{key}" message={fields.name} />
		</div>
		<div>
			<label class="field"
				><span>E-mail address, if you have it</span><input
					name="email"
					type="email"
					bind:value={email}
					readonly={knownId !== ''}
					onblur={lookUp}
					autocomplete="off"
					aria-invalid={fields.email ? 'true' : undefined}
				/></label
			>
			<FieldProblem id="email-{key}" message={fields.email} />
			{#if noMailAt}<p class="mt-1 text-xs text-(--lamp-deep)" role="status">No mail server takes mail for {noMailAt}. Is it spelled right?</p>{/if}
		</div>
		<div>
			<label class="field"
				><span>Phone</span><input
					name="phone"
					type="tel"
					value={phone ?? ''}
					autocomplete="off"
					aria-invalid={fields.phone ? 'true' : undefined}
				/></label
			>
			<FieldProblem id="phone-{key}" message={fields.phone} />
		</div>
		<label class="field"
			><span>Role at this client</span><input name="role" value={contact?.role ?? ''} maxlength="80" placeholder="owner, office manager …" /></label
		>
		<label class="field"
			><span>Reads the portal and messages in</span><select name="locale" value={contact?.locale ?? page.data.clientLanguage}
				>{#each LANGUAGE_CODES as code (code)}<option value={code} lang={code}>{LANGUAGES[code]}</option>{/each}</select
			></label
		>
		{#if page.data.texts || (contact && contact.channels !== 'email')}
			<label class="field"
				><span>Requests and reminders go</span><select name="channels" value={contact?.channels ?? 'email'}>
					<option value="email">by e-mail</option>
					<option value="both">by e-mail and text message</option>
					<option value="text">by text message; by e-mail if that fails</option>
				</select></label
			>{/if}
		{#if contact}<label class="field"
				><span>Reminders of what is asked from now on</span><select name="chasePlan" value={contact.chasePlan ?? ''}
					><option value="">as the list, the client or the firm has it</option>{#each plans as plan (plan.key)}<option value={plan.key}
							>{plan.name}: {plan.words}</option
						>{/each}</select
				></label
			>{/if}
	</div>
	{#if known}
		<div class="notice-lamp">
			<p>
				<b>{known.name}</b> has this address{known.clients.length > 0 ? ` and belongs to ${known.clients.join(', ')}` : ''}. One person keeps one
				sign-in for all their businesses.
			</p>
			<button type="button" class="act-quiet mt-2" onclick={() => take(known!)}>Use {known.name}</button>
		</div>
	{/if}
	<div class="flex gap-2">
		<button class="act" disabled={pending}>{contact ? `Save ${contact.name.split(' ')[0]}` : 'Add the person'}</button>
		<button type="button" class="act-quiet" onclick={done}>Cancel</button>
	</div>
</form>
