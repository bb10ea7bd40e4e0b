<script lang="ts">
	import { clientMovesFrom, type ClientMove } from '$lib/core/clients/client-states';
	import type { ClientRecord } from '$lib/server/clients/read-clients';
	import { untrack } from 'svelte';
	import { RIGHT_WORDS, RIGHTS } from '$lib/core/clients/client-rights';
	import { PORTAL_AREA_WORDS, PORTAL_AREAS, type ClientAreas, type PortalArea } from '$lib/core/firms/portal-areas';
	import type { ClientRights } from '$lib/server/clients/client-rights';
	import type { ClientBrand } from '$lib/server/firms/brands';
	import { enhancedForm } from '../forms/enhanced-form';

	let {
		client,
		staff,
		brands,
		look,
		rights,
		areas,
		groups,
		plans,
		openItems,
		mayClose,
		done
	}: {
		client: ClientRecord;
		staff: { id: string; name: string; role: string }[];
		brands: { id: string; name: string }[];
		/** which brand they see, and their own welcome */ look: ClientBrand;
		/** who of the firm may do what with this client */ rights: ClientRights;
		/** what they find on their page: chosen for them, and proposed by their services */ areas: { own: ClientAreas; proposed: PortalArea[] };
		groups: { id: string; name: string }[];
		/** plans of reminders that can be chosen */ plans: { key: string; name: string; words: string }[];
		/** things asked that are still open */ openItems: number;
		/** may lock, end, merge and say who may see the client */ mayClose: boolean;
		done: () => void;
	} = $props();
	let move = $state<ClientMove | null>(null);
	let showBrand = $state(false);
	let showRights = $state(false);
	let open = $state(untrack(() => (rights.restricted ? 'some' : 'all')));
	let problem = $state('');
	let pending = $state(false);
	const handling = {
		onPending: (p: boolean) => (pending = p),
		onProblem: (p: { message: string }) => (problem = p.message),
		onSuccess: () => done()
	};
	const openThings = $derived(openItems === 1 ? 'One open thing is' : `${openItems} open things are`);
	const MOVES: Record<ClientMove, { act: string; what: () => string }> = {
		lock: {
			act: 'Lock the client',
			what: () =>
				`Nothing new can be asked and nobody is reminded until it is unlocked. ${openItems > 0 ? `${openThings} not asked for in the meantime.` : ''}`
		},
		unlock: { act: 'Unlock the client', what: () => 'Asking and reminders go on where they stopped.' },
		end: {
			act: 'End the work for this client',
			what: () =>
				`They leave the list of clients and get no more reminders; they can still sign in and read what they handed in. ${openItems > 0 ? `${openThings} not asked for any more.` : ''} This can be undone.`
		},
		reopen: { act: 'Reopen the client', what: () => 'They come back to the list; what was open is asked for again.' }
	};
</script>

<div class="mt-3 border border-(--rule-strong) bg-(--sheet) p-4">
	{#if problem}<p class="notice-wrong mb-3" role="alert">{problem}</p>{/if}
	<form method="post" action="/desk/clients/{client.id}?/changeBasics" class="space-y-3" {@attach enhancedForm(handling)}>
		<label class="field"><span>Name of the client</span><input name="name" value={client.name} maxlength="200" /></label>
		<div class="grid gap-3 sm:grid-cols-2">
			<label class="field"
				><span>Kind</span><select name="kind" value={client.kind}
					><option value="business" selected={client.kind === 'business'}>a business</option><option
						value="person"
						selected={client.kind === 'person'}>a person</option
					></select
				></label
			>
			<label class="field"
				><span>Looked after by</span><select name="responsibleId"
					>{#each staff as person (person.id)}<option value={person.id} selected={person.id === client.responsibleId}>{person.name}</option
						>{/each}</select
				></label
			>
		</div>
		<label class="field max-w-md"
			><span>Reminders of what is asked from now on</span><select name="chasePlan" value={client.chasePlan ?? ''}
				><option value="">as the list, the person, a service or the firm has it</option>{#each plans as plan (plan.key)}<option value={plan.key}
						>{plan.name}: {plan.words}</option
					>{/each}</select
			></label
		>
		<div class="flex flex-wrap gap-2">
			<button class="act" disabled={pending}>Save</button><button type="button" class="act-quiet" onclick={done}>Cancel</button>
			<span class="ml-auto flex flex-wrap items-baseline gap-3 self-center text-sm">
				{#if mayClose}<button type="button" class="act-link" aria-expanded={showRights} onclick={() => (showRights = !showRights)}
						>Who has access …</button
					>{/if}
				<button type="button" class="act-link" aria-expanded={showBrand} onclick={() => (showBrand = !showBrand)}>Brand and welcome …</button>
				{#if mayClose}<a class="act-link" href="/desk/clients/{client.id}/merge">Merge with another client …</a>{/if}
				{#each mayClose ? clientMovesFrom(client.state) : [] as possible (possible)}<button
						type="button"
						class="act-link"
						aria-expanded={move === possible}
						onclick={() => (move = move === possible ? null : possible)}>{MOVES[possible].act} …</button
					>{/each}
			</span>
		</div>
	</form>
	{#if showRights}
		<form
			method="post"
			action="/desk/clients/{client.id}?/changeRights"
			class="mt-4 space-y-2 border-t border-(--rule-strong) pt-3"
			{@attach enhancedForm(handling)}
		>
			<label class="flex gap-2"
				><input type="radio" name="open" value="all" bind:group={open} /> open to everybody of the firm, as their role allows</label
			>
			<label class="flex gap-2"><input type="radio" name="open" value="some" bind:group={open} /> only for some</label>
			{#if open === 'some'}
				<p class="text-sm text-(--half)">{client.responsible}, who looks after the client, and the administrators may always do everything.</p>
				<ul class="grid gap-x-6 gap-y-1.5 sm:grid-cols-2">
					{#each [...groups, ...staff.filter((person) => person.id !== client.responsibleId && person.role !== 'administrator')] as one (one.id)}
						<li>
							<label class="flex items-center justify-between gap-3 text-sm"
								><span class="min-w-0 truncate">{one.name}</span><select
									name="right-{one.id}"
									aria-label="Right of {one.name}"
									class="line-input !w-auto"
									value={rights.given[one.id] ?? ''}
									><option value="">nothing</option>{#each RIGHTS as right (right)}<option value={right}>{right}</option>{/each}</select
								></label
							>
						</li>
					{/each}
				</ul>
				<p class="text-xs text-(--half)">
					{#each RIGHTS as right (right)}<b>{right}</b>: {RIGHT_WORDS[right]}.&nbsp;{/each}
				</p>
			{/if}
			<button class="act-quiet" disabled={pending}>Save the access</button>
		</form>
	{/if}
	{#if showBrand}
		<form
			method="post"
			action="/desk/clients/{client.id}?/changeBrand"
			class="mt-4 space-y-3 border-t border-(--rule-strong) pt-3"
			{@attach enhancedForm(handling)}
		>
			<label class="field"
				><span>Brand they see</span><select name="brandId" value={look.brandId ?? ''}
					><option value="">the firm’s own</option>{#each brands as brand (brand.id)}<option value={brand.id}>{brand.name}</option>{/each}</select
				></label
			>
			<label class="field"
				><span>Their own welcome, instead of the brand’s</span><textarea name="welcome" rows="2" maxlength="400">{look.welcome}</textarea></label
			>
			<label class="field"
				><span>Address of a video for them</span><input
					name="welcomeVideo"
					type="url"
					value={look.welcomeVideo}
					maxlength="400"
					placeholder="https://…"
				/></label
			>
			<div class="grid gap-3 sm:grid-cols-2">
				{#each PORTAL_AREAS as area (area)}<label class="field"
						><span>{PORTAL_AREA_WORDS[area]}</span><select
							name="area-{area}"
							value={areas.own[area] === undefined ? '' : areas.own[area] ? 'on' : 'off'}
							><option value="">as their services say: {areas.proposed.includes(area) ? 'shown' : 'not shown'}</option><option value="on"
								>shown</option
							><option value="off">not shown</option></select
						></label
					>{/each}
			</div>
			<button class="act-quiet" disabled={pending}>Save brand and welcome</button>
		</form>
	{/if}
	{#if move}
		<form
			method="post"
			action="/desk/clients/{client.id}?/move"
			class="mt-4 space-y-2 border-t border-(--rule-strong) pt-3"
			{@attach enhancedForm(handling)}
		>
			<p class="text-sm">{MOVES[move].what()}</p>
			<input type="hidden" name="move" value={move} />
			<label class="field"
				><span>Why? The history keeps it.</span><!-- svelte-ignore a11y_autofocus --><input name="reason" maxlength="500" autofocus /></label
			>
			<button class="act-quiet" disabled={pending}>{MOVES[move].act}</button>
		</form>
	{/if}
</div>
