<script lang="ts">
	import { goto } from '$app/navigation';
	import { enhancedForm } from '$lib/ui/forms/enhanced-form';
	import FieldProblem from '$lib/ui/forms/FieldProblem.svelte';
	import WholeSheet from '$lib/ui/desk/WholeSheet.svelte';

	let { data } = $props();
	type Person = (typeof data.people)[number];
	let open = $state<string | null>(null);
	let problem = $state('');
	let fields = $state<Record<string, string>>({});
	let pending = $state(false);
	let typed = $state('');
	let found = $state<{ id: string; name: string }[]>([]);
	const handling = {
		onPending: (p: boolean) => (pending = p),
		onProblem: (p: { message: string; fields: Record<string, string> }) => {
			problem = p.message;
			fields = p.fields;
		},
		onSuccess: () => begin(null)
	};
	function begin(what: string | null) {
		open = what;
		problem = typed = '';
		fields = {};
		found = [];
	}
	let timer: ReturnType<typeof setTimeout> | undefined;
	function look() {
		clearTimeout(timer);
		timer = setTimeout(async () => {
			const answer = typed.trim().length < 2 ? null : await fetch(`/desk/find?q=${encodeURIComponent(typed)}`).catch(() => null);
			found = answer?.ok ? ((await answer.json()) as { id: string; name: string }[]) : [];
		}, 200);
	}
	function search(event: SubmitEvent) {
		event.preventDefault();
		const query = new URLSearchParams();
		for (const [name, value] of new FormData(event.target as HTMLFormElement)) if (value) query.set(name, String(value));
		void goto(`?${query}`, { keepFocus: true });
	}
	const more = $derived(
		data.next &&
			`?${new URLSearchParams({ ...(data.filter.nowhere ? { only: 'nowhere' } : {}), ...(data.filter.search ? { search: data.filter.search } : {}), after: data.next })}`
	);
</script>

<svelte:head><title>People · {data.firm.name}</title></svelte:head>

{#snippet form(person: Person | null)}
	<form method="post" action="?/{person ? 'change' : 'add'}" class="notice-lamp my-2 space-y-3" {@attach enhancedForm(handling)}>
		{#if problem}<p class="notice-wrong" role="alert">{problem}</p>{/if}
		{#if person}<input type="hidden" name="contactId" value={person.id} />{/if}
		<div class="grid gap-3 sm:grid-cols-3">
			<div>
				<!-- svelte-ignore a11y_autofocus -->
				<label class="field"><span>Name</span><input name="name" value={person?.name} maxlength="200" autocomplete="off" autofocus /></label>
				<FieldProblem id="pe-name" message={fields.name} />
			</div>
			<div>
				<label class="field"
					><span>E-mail address, if you have it</span><input name="email" type="email" value={person?.email} autocomplete="off" /></label
				>
				<FieldProblem id="pe-email" message={fields.email} />
			</div>
			<div>
				<label class="field"><span>Phone</span><input name="phone" type="tel" value={person?.phoneWords} autocomplete="off" /></label>
				<FieldProblem id="pe-phone" message={fields.phone} />
			</div>
		</div>
		<div class="flex gap-2">
			<button class="act" disabled={pending}>{person ? `Save ${person.name.split(' ')[0]}` : 'Add the person'}</button>
			<button type="button" class="act-quiet" onclick={() => begin(null)}>Cancel</button>
		</div>
	</form>
{/snippet}

<WholeSheet>
	<p class="text-sm"><a class="act-link" href="/desk/clients">Clients</a></p>
	<div class="flex flex-wrap items-start justify-between gap-3">
		<h1 class="text-[1.65rem] leading-tight">People</h1>
		{#if data.mayChange && open !== 'new'}<button class="act" onclick={() => begin('new')}>Add a person</button>{/if}
	</div>
	<p class="mt-1 max-w-3xl text-[0.9rem] text-(--half)">
		Everyone you know, with or without a client: another firm’s accountant, a lawyer, a future client.
	</p>
	<form class="mt-3 flex flex-wrap items-end gap-3" onsubmit={search}>
		<label class="field"><span>Name or address</span><input name="search" value={data.filter.search} maxlength="100" autocomplete="off" /></label>
		<label class="flex min-h-9 items-center gap-2 text-[0.92rem]"
			><input
				type="checkbox"
				name="only"
				value="nowhere"
				checked={data.filter.nowhere}
				onchange={(event) => event.currentTarget.form?.requestSubmit()}
			/>
			only who belongs to no client</label
		>
		<button class="act-quiet">Find</button>
	</form>
	{#if open === 'new'}{@render form(null)}{/if}
	{#if data.people.length === 0}<p class="mt-6 text-(--half)">
			{data.filter.search ? 'Nobody has this name.' : data.filter.nowhere ? 'Everybody belongs to a client.' : 'Nobody yet.'}
		</p>{/if}
	<ul class="mt-3">
		{#each data.people as person (person.id)}
			<li class="border-b border-(--rule) py-1.5 text-[0.92rem]">
				<div class="flex flex-wrap items-baseline gap-x-4 gap-y-1">
					<b>{person.name}</b>
					<span class="text-(--half)">{person.email ?? 'no e-mail address'}{person.phoneWords ? ` · ${person.phoneWords}` : ''}</span>
					<span class="min-w-0 flex-1 text-right"
						>{#each person.clients as client, i (client.id)}{i > 0 ? ', ' : ''}<a
								class="underline decoration-dotted underline-offset-2"
								href="/desk/clients/{client.id}">{client.name}</a
							>{:else}{#if person.signsFor.length === 0}<span class="text-(--half)">no client</span
								>{/if}{/each}{#if person.signsFor.length > 0}{person.clients.length > 0 ? '; ' : ''}<span class="text-(--half)"
								>for letters of&nbsp;</span
							>{#each person.signsFor as client, i (client.id)}{i > 0 ? ', ' : ''}<a
									class="underline decoration-dotted underline-offset-2"
									href="/desk/clients/{client.id}">{client.name}</a
								>{/each}{/if}</span
					>
					{#if data.mayChange}
						{#if person.clients.length === 0}<button class="act-link" aria-label="Change {person.name}" onclick={() => begin(`change ${person.id}`)}
								>Change …</button
							>{/if}
						<button class="act-link" aria-label="Add {person.name} to a client" onclick={() => begin(`join ${person.id}`)}>Add to a client …</button>
					{/if}
				</div>
				{#if open === `change ${person.id}`}{@render form(person)}{/if}
				{#if open === `join ${person.id}`}
					<div class="notice-lamp my-2 space-y-2">
						{#if problem}<p class="notice-wrong" role="alert">{problem}</p>{/if}
						<!-- svelte-ignore a11y_autofocus -->
						<label class="field"
							><span>Which client?</span><input bind:value={typed} oninput={look} autocomplete="off" autofocus maxlength="100" /></label
						>
						{#each found as client (client.id)}
							<form method="post" action="?/join" {@attach enhancedForm(handling)}>
								<input type="hidden" name="contactId" value={person.id} /><input type="hidden" name="clientId" value={client.id} />
								<button class="act-quiet" disabled={pending}>{client.name}</button>
							</form>
						{/each}
						<button type="button" class="act-link" onclick={() => begin(null)}>Cancel</button>
					</div>
				{/if}
			</li>
		{/each}
	</ul>
	{#if more}<p class="mt-4"><a class="act-quiet" href={more}>More people</a></p>{/if}
</WholeSheet>
