<script lang="ts">
	import { tick, untrack } from 'svelte';
	import { page } from '$app/state';
	import { LANGUAGE_CODES, LANGUAGES } from '$lib/core/people/languages';
	import { invalidateAll } from '$app/navigation';
	import type { Nameable } from '$lib/core/signing/signers';
	import type { KnownContact } from '$lib/server/clients/add-client';
	import { askDesk } from '../desk/ask-desk';
	import FieldProblem from '../forms/FieldProblem.svelte';

	/** Says who outside a client signs its letter. It stands in a form that is sent by other means: the return key adds them, and sends nothing. */
	let { clientId, named }: { clientId: string; named: (person: Nameable) => void } = $props();
	const id = $props.id();
	let name = $state('');
	let email = $state('');
	let phone = $state('');
	/** as the firm's clients read, unless it is said */
	let locale = $state(untrack(() => page.data.clientLanguage as string));
	let group = $state<HTMLElement>();
	let pending = $state(false);
	let problem = $state('');
	let fields = $state<Record<string, string>>({});
	/** who has this address already */
	let known = $state<KnownContact | null>(null);

	async function add(knownId = '') {
		if (pending) return;
		pending = true;
		problem = '';
		fields = {};
		known = null;
		let refused = false;
		const answer = await askDesk<{ person: Nameable }>(
			`/desk/clients/${clientId}?/nameOutsideSigner`,
			{ name, email, phone, locale, knownId },
			(message, why) => {
				refused = true;
				problem = message;
				fields = why.fields;
				known = why.fields.known ? (JSON.parse(why.fields.known) as KnownContact) : null;
			}
		);
		if (answer) {
			await invalidateAll();
			named(answer.person);
		} else if (!refused) problem = 'That did not arrive. Please try again.';
		pending = false;
		await tick();
		group?.querySelector<HTMLElement>('[aria-invalid=true]')?.focus();
	}
	function onkeydown(event: KeyboardEvent) {
		if (event.key !== 'Enter' || event.isComposing) return;
		event.preventDefault();
		void add();
	}
</script>

<div class="w-full pl-7" role="group" bind:this={group} aria-label="Somebody outside the client">
	{#if problem && Object.keys(fields).length === 0}<p class="field-problem" role="alert">{problem}</p>{/if}
	<div class="grid gap-2 sm:grid-cols-2">
		<div>
			<label class="field"
				><span>Their name</span><input
					bind:value={name}
					{onkeydown}
					maxlength="120"
					autocomplete="off"
					aria-invalid={fields.name ? 'true' : undefined}
					aria-describedby={fields.name ? `${id}-name` : undefined}
				/></label
			>
			<FieldProblem id="{id}-name" message={fields.name} />
		</div>
		<div>
			<label class="field"
				><span>E-mail address</span><input
					type="email"
					bind:value={email}
					{onkeydown}
					autocomplete="off"
					aria-invalid={fields.email ? 'true' : undefined}
					aria-describedby={fields.email ? `${id}-email` : undefined}
				/></label
			>
			<FieldProblem id="{id}-email" message={fields.email} />
		</div>
		<div>
			<label class="field"
				><span>Mobile number, for a code by text</span><input
					type="tel"
					bind:value={phone}
					{onkeydown}
					autocomplete="off"
					aria-invalid={fields.phone ? 'true' : undefined}
					aria-describedby={fields.phone ? `${id}-phone` : undefined}
				/></label
			>
			<FieldProblem id="{id}-phone" message={fields.phone} />
		</div>
		<label class="field"
			><span>Reads the letter’s page and messages in</span><select bind:value={locale}
				>{#each LANGUAGE_CODES as code (code)}<option value={code} lang={code}>{LANGUAGES[code]}</option>{/each}</select
			></label
		>
	</div>
	{#if known}<p class="notice-lamp mt-2" role="alert">
			{known.email} belongs to {known.name}{known.clients.length > 0 ? ` (${known.clients.join(', ')})` : ''}, whom you know already.
			<button type="button" class="act-link" disabled={pending} onclick={() => add(known?.id)}>{known.name} signs</button>
		</p>{/if}
	<p class="mt-2 flex flex-wrap items-baseline gap-x-3 gap-y-1">
		<button type="button" class="act-quiet" disabled={pending} onclick={() => add()}>Add them</button>
		<span class="text-xs text-(--half)">They see this letter and nothing else of the client, and need no sign-in.</span>
	</p>
</div>
