<script lang="ts">
	import { askDesk } from '$lib/ui/desk/ask-desk';
	import { enhancedForm } from '$lib/ui/forms/enhanced-form';
	import FieldProblem from '$lib/ui/forms/FieldProblem.svelte';
	import type { LikelyClient } from '$lib/server/clients/find-clients';
	import type { KnownContact } from '$lib/server/clients/add-client';

	let { data, form } = $props();
	interface Person {
		id: string;
		name: string;
		email: string;
		known: KnownContact | null;
		/** a domain that surely takes no mail */
		noMailAt: string | null;
	}
	// svelte-ignore state_referenced_locally
	const typed = form && 'problem' in form ? form.problem?.values : undefined;
	let people = $state<Person[]>([{ id: typed?.id0 ?? '', name: typed?.name0 ?? '', email: typed?.email0 ?? '', known: null, noMailAt: null }]);
	let name = $state(typed?.name ?? '');
	let kind = $state(typed?.kind ?? 'business');
	// svelte-ignore state_referenced_locally
	let responsibleId = $state(typed?.responsibleId ?? data.me ?? '');
	// svelte-ignore state_referenced_locally
	let problem = $state(form && 'problem' in form ? (form.problem?.message ?? '') : '');
	// svelte-ignore state_referenced_locally
	let fields = $state<Record<string, string>>(form && 'problem' in form ? (form.problem?.fields ?? {}) : {});
	let pending = $state(false);

	let like = $state<LikelyClient[]>([]);
	let likeTimer: ReturnType<typeof setTimeout> | undefined;
	function lookForSame() {
		clearTimeout(likeTimer);
		likeTimer = setTimeout(async () => {
			like = (await askDesk<{ like: LikelyClient[] }>('?/findLike', { name }))?.like ?? like;
		}, 300);
	}

	async function lookUp(person: Person) {
		person.noMailAt = null;
		if (person.id || !person.email.includes('@')) return;
		const answer = await askDesk<{ known: KnownContact | null; noMailAt: string | null }>('?/findKnown', { email: person.email });
		person.known = answer?.known ?? null;
		person.noMailAt = answer?.noMailAt ?? null;
	}
	function take(person: Person, known: KnownContact) {
		Object.assign(person, { id: known.id, name: known.name, email: known.email, known: null });
	}
</script>

<svelte:head><title>New client · {data.firm.name}</title></svelte:head>

<div class="p-5 pr-10">
	<h2 class="text-[1.3rem]">New client</h2>
	<p class="mt-1 text-sm text-(--half)">Nobody is written to yet. Inviting comes after.</p>
	<form
		method="post"
		action="?/add"
		class="mt-4 space-y-4"
		{@attach enhancedForm({
			onPending: (p) => (pending = p),
			onProblem: (p) => {
				problem = p.message;
				fields = p.fields;
				for (const [path, value] of Object.entries(p.fields)) {
					const match = /^contacts\.(\d)\.known$/.exec(path);
					if (match) people[Number(match[1])].known = JSON.parse(value);
				}
			}
		})}
	>
		{#if problem}<p class="notice-wrong" role="alert">{problem}</p>{/if}
		<div>
			<label class="field"
				><span>Name of the client</span><!-- svelte-ignore a11y_autofocus --><input
					name="name"
					bind:value={name}
					oninput={lookForSame}
					autofocus
					maxlength="200"
					aria-invalid={fields.name ? 'true' : undefined}
					aria-describedby="p-name"
				/></label
			>
			<FieldProblem id="p-name" message={fields.name} />
			<div aria-live="polite">
				{#if like.length > 0}
					<p class="notice-lamp mt-2">
						Perhaps there already:
						{#each like as client, i (client.id)}<a class="act-link" href="/desk/clients/{client.id}">{client.name}</a>
							{client.why}{client.state === 'ended' ? ', a former client' : ''}{i < like.length - 1 ? ', ' : '.'}
						{/each}
					</p>
				{/if}
			</div>
		</div>
		<div class="grid gap-4 sm:grid-cols-2">
			<fieldset>
				<legend class="field-label">Kind</legend>
				<div class="flex gap-4 pt-1 text-sm">
					<label class="flex items-center gap-2"><input type="radio" name="kind" value="business" bind:group={kind} /> a business</label>
					<label class="flex items-center gap-2"><input type="radio" name="kind" value="person" bind:group={kind} /> a person</label>
				</div>
			</fieldset>
			<label class="field"
				><span>Responsible at the firm</span><select name="responsibleId" bind:value={responsibleId}>
					{#each data.staff as s (s.id)}<option value={s.id}>{s.name}</option>{/each}
				</select></label
			>
		</div>
		{#each people as person, i (i)}
			<fieldset class="border-t border-(--rule-strong) pt-3">
				<legend class="serif pr-2 text-[0.98rem] font-semibold">{i === 0 ? 'Contact' : 'Second contact'}</legend>
				<input type="hidden" name="id{i}" value={person.id} />
				<div class="mt-1 grid gap-4 sm:grid-cols-2">
					<div>
						<label class="field"
							><span>Name</span><input
								name="name{i}"
								bind:value={person.name}
								readonly={!!person.id}
								maxlength="200"
								autocomplete="off"
								aria-invalid={fields[`contacts.${i}.name`] ? 'true' : undefined}
							/></label
						>
						<FieldProblem id="p-name{i}" message={fields[`contacts.${i}.name`]} />
					</div>
					<div>
						<label class="field"
							><span>E-mail address, if you have it</span><input
								name="email{i}"
								type="email"
								bind:value={person.email}
								readonly={!!person.id}
								onblur={() => lookUp(person)}
								autocomplete="off"
								aria-invalid={fields[`contacts.${i}.email`] ? 'true' : undefined}
							/></label
						>
						<FieldProblem id="p-email{i}" message={fields[`contacts.${i}.email`]} />
						{#if person.noMailAt}<p class="mt-1 text-xs text-(--lamp-deep)" role="status">
								No mail server takes mail for {person.noMailAt}. Is it spelled right?
							</p>{/if}
					</div>
				</div>
				{#if person.known}
					<div class="notice-lamp mt-3">
						<p>
							<b>{person.known.name}</b> has this address{person.known.clients.length > 0
								? ` and belongs to ${person.known.clients.join(', ')}`
								: ''}. One person keeps one sign-in for all their businesses.
						</p>
						<button type="button" class="act-quiet mt-2" onclick={() => take(person, person.known!)}>Use {person.known.name}</button>
					</div>
				{:else if person.id}
					<p class="mt-2 text-sm text-(--half)">
						A contact you know already. <button type="button" class="act-link" onclick={() => Object.assign(person, { id: '', name: '', email: '' })}
							>Somebody else</button
						>
					</p>
				{/if}
			</fieldset>
		{/each}
		{#if people.length < 2}<button
				type="button"
				class="act-link text-sm"
				onclick={() => people.push({ id: '', name: '', email: '', known: null, noMailAt: null })}>Add a second contact</button
			>{/if}
		<div class="flex gap-2 pt-1">
			<button class="act" disabled={pending}>Add the client</button><a class="act-quiet" href="/desk/clients">Cancel</a>
		</div>
	</form>
</div>
