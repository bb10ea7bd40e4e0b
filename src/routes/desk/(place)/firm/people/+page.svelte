<script lang="ts">
	import LostSecondStep from '$lib/ui/sign-in/LostSecondStep.svelte';
	import WholeSheet from '$lib/ui/desk/WholeSheet.svelte';
	import Check from '@lucide/svelte/icons/check';
	import { enhancedForm } from '$lib/ui/forms/enhanced-form';
	import FieldProblem from '$lib/ui/forms/FieldProblem.svelte';

	let { data } = $props();
	let problem = $state('');
	let fields = $state<Record<string, string>>({});
	let adding = $state(false);
	let pending = $state(false);
	let grouping = $state<string | null>(null);
	const handling = {
		onPending: (p: boolean) => {
			pending = p;
			if (p) {
				problem = '';
				fields = {};
			}
		},
		onProblem: (p: { message: string; fields: Record<string, string> }) => {
			problem = p.message;
			fields = p.fields;
		}
	};
</script>

<svelte:head><title>People, roles and security · {data.firm.name}</title></svelte:head>

{#snippet groupForm(group: (typeof data.groups)[number] | null)}
	<form
		method="post"
		action="?/writeGroup"
		class="notice-lamp mt-2 space-y-3"
		{@attach enhancedForm({ ...handling, close: () => (grouping = null) })}
	>
		{#if group}<input type="hidden" name="groupId" value={group.id} />{/if}
		<!-- svelte-ignore a11y_autofocus -->
		<label class="field"
			><span>Name of the group</span><input name="name" value={group?.name} maxlength="60" autocomplete="off" autofocus required /></label
		>
		<FieldProblem id="group-name" message={fields.name} />
		<fieldset class="flex flex-wrap gap-x-5 gap-y-1.5">
			<legend class="sr">Who is in it</legend>
			{#each data.people.filter((person) => !person.suspendedAt) as person (person.id)}<label class="flex gap-2"
					><input type="checkbox" name="member" value={person.id} checked={group?.members.some((member) => member.id === person.id)} />
					{person.name}</label
				>{/each}
		</fieldset>
		<div class="flex gap-2">
			<button class="act" disabled={pending}>{group ? 'Save the group' : 'Add the group'}</button>
			<button type="button" class="act-quiet" onclick={() => (grouping = null)}>Cancel</button>
		</div>
	</form>
{/snippet}

<WholeSheet>
	<p class="text-sm"><a class="act-link" href="/desk/firm">Firm</a></p>
	<div class="flex flex-wrap items-start justify-between gap-3">
		<h1 class="text-[1.65rem] leading-tight">People, roles and security</h1>
		{#if data.maySetUp}<button class="act" aria-expanded={adding} onclick={() => (adding = !adding)}>{adding ? 'Cancel' : 'Add a person …'}</button
			>{/if}
	</div>
	{#if !data.maySetUp}<p class="mt-1 text-[0.9rem] text-(--half)">An administrator of the firm can change these settings.</p>{/if}
	{#if problem}<p class="notice-wrong mt-3" role="alert">{problem}</p>{/if}

	{#if adding}
		<form
			method="post"
			action="?/add"
			class="notice-lamp mt-4 max-w-3xl space-y-3"
			{@attach enhancedForm({ ...handling, close: () => (adding = false) })}
		>
			<div class="grid gap-3 sm:grid-cols-3">
				<div>
					<!-- svelte-ignore a11y_autofocus -->
					<label class="field"><span>Name</span><input name="name" maxlength="120" autocomplete="off" autofocus required /></label>
					<FieldProblem id="p-name" message={fields.name} />
				</div>
				<div>
					<label class="field"><span>E-mail address</span><input name="email" type="email" autocomplete="off" required /></label>
					<FieldProblem id="p-email" message={fields.email} />
				</div>
				<label class="field"
					><span>Role</span><select name="role"
						>{#each data.roles as role (role)}<option selected={role === 'bookkeeper'}>{role}</option>{/each}</select
					></label
				>
			</div>
			<p class="text-xs text-(--half)">They get a message with a link, and choose their own password. The link works once, for a week.</p>
			<button class="act" disabled={pending}>Add and send the link</button>
		</form>
	{/if}

	<ul class="mt-4">
		{#each data.people as person (person.id)}
			<li class="person">
				<div class="min-w-0">
					<b>{person.name}</b>{#if person.id === data.me}&nbsp;<span class="text-(--half)">(you)</span>{/if}
					<p class="truncate text-[0.85rem] text-(--half)">{person.email}</p>
				</div>
				<p class="text-[0.85rem] text-(--half)">
					{#if person.suspendedAt}<b class="text-(--lamp-deep)">Suspended: cannot sign in.</b>
					{:else if !person.hasAccess}Has not chosen a password yet.
					{:else}{person.lastUsedAt ? `Last here ${person.lastUsedAt}. ` : 'Not here yet. '}{person.secondStep
							? 'Second step set up.'
							: 'No second step.'}{/if}
					{person.clients > 0 ? `Looks after ${person.clients} ${person.clients === 1 ? 'client' : 'clients'}.` : ''}
				</p>
				{#if data.maySetUp}
					<form
						method="post"
						action="?/changeRole"
						onchange={(event) => (event.currentTarget as HTMLFormElement).requestSubmit()}
						{@attach enhancedForm(handling)}
					>
						<input type="hidden" name="staffId" value={person.id} />
						<select name="role" class="line-input !w-auto" aria-label="Role of {person.name}" value={person.role} disabled={pending}
							>{#each data.roles as role (role)}<option>{role}</option>{/each}</select
						>
					</form>
					<span class="flex flex-wrap gap-x-4">
						{#if !person.hasAccess && !person.suspendedAt}<form method="post" action="?/sendAgain" {@attach enhancedForm(handling)}>
								<input type="hidden" name="staffId" value={person.id} /><button class="act-link" disabled={pending}>Send the link again</button>
							</form>{/if}
						{#if person.id !== data.me && person.hasAccess && !person.suspendedAt}<form
								method="post"
								action="?/signOut"
								{@attach enhancedForm(handling)}
							>
								<input type="hidden" name="staffId" value={person.id} /><button
									class="act-link"
									aria-label="Sign out everywhere: {person.name}"
									disabled={pending}>Sign out everywhere</button
								>
							</form>{/if}
						{#if person.id !== data.me}<form method="post" action="?/suspend" {@attach enhancedForm(handling)}>
								<input type="hidden" name="staffId" value={person.id} /><input
									type="hidden"
									name="suspend"
									value={person.suspendedAt ? 'no' : 'yes'}
								/><button class="act-link" aria-label="{person.suspendedAt ? 'Lift the suspension' : 'Suspend'}: {person.name}" disabled={pending}
									>{person.suspendedAt ? 'Lift the suspension' : 'Suspend'}</button
								>
							</form>{/if}
					</span>
					{#if person.id !== data.me && person.secondStep && !person.suspendedAt}<div class="lost">
							<LostSecondStep
								name={person.name}
								field="staffId"
								id={person.id}
								action="?/clearSecondStep"
								handling={enhancedForm(handling)}
								{pending}
							/>
						</div>{/if}
				{:else}<span>{person.role}</span>{/if}
			</li>
		{/each}
	</ul>

	<section class="mt-8 max-w-3xl" aria-labelledby="groups">
		<h2 id="groups" class="text-[1.1rem]">Groups</h2>
		<p class="mt-1 text-[0.9rem] text-(--half)">Things of the Library, and clients, can be shared with a group instead of everybody.</p>
		<ul class="mt-2">
			{#each data.groups as group (group.id)}
				<li class="flex flex-wrap items-baseline gap-x-5 gap-y-1 border-b border-(--rule) py-1.5 text-[0.92rem]">
					<b>{group.name}</b>
					<span class="min-w-0 flex-1 text-(--half)">{group.members.map((member) => member.name).join(', ') || 'nobody yet'}</span>
					{#if data.maySetUp}
						<button class="act-link" aria-label="Change {group.name}" onclick={() => (grouping = grouping === group.id ? null : group.id)}
							>Change …</button
						>
						<form method="post" action="?/endGroup" {@attach enhancedForm(handling)}>
							<input type="hidden" name="groupId" value={group.id} /><button
								class="act-link"
								aria-label="Delete {group.name}: what was shared with it goes back to whoever made it">Delete</button
							>
						</form>
					{/if}
				</li>
				{#if grouping === group.id}{@render groupForm(group)}{/if}
			{/each}
		</ul>
		{#if data.maySetUp}
			{#if grouping === 'new'}{@render groupForm(null)}
			{:else}<p class="py-2 text-sm"><button class="act-link" onclick={() => (grouping = 'new')}>Add a group …</button></p>{/if}
		{/if}
	</section>

	<section class="mt-8" aria-labelledby="rule">
		<h2 id="rule" class="text-[1.1rem]">Second step at sign-in</h2>
		<p class="mt-1 max-w-3xl text-[0.9rem] text-(--half)">
			An authenticator app or a passkey besides the password. Who must have one and has none sets it up at their next sign-in, before anything else.
			Everybody may set one up, required or not.
		</p>
		<form
			method="post"
			action="?/changeRule"
			class="mt-2 space-y-1.5 text-[0.92rem]"
			onchange={(event) => (event.currentTarget as HTMLFormElement).requestSubmit()}
			{@attach enhancedForm(handling)}
		>
			<label class="flex gap-2"
				><input type="checkbox" name="staff" checked={data.rule.staff} disabled={!data.maySetUp} /> required of the people of the firm</label
			>
			<label class="flex gap-2"
				><input type="checkbox" name="contacts" checked={data.rule.contacts} disabled={!data.maySetUp} /> required of clients’ contacts</label
			>
		</form>
	</section>

	<section class="mt-8" aria-labelledby="roles">
		<h2 id="roles" class="text-[1.1rem]">What each role may do</h2>
		<div class="overflow-x-auto">
			<table class="mt-2 text-[0.88rem]">
				<thead
					><tr
						><th scope="col"><span class="sr">what</span></th>{#each data.roles as role (role)}<th scope="col">{role}</th>{/each}</tr
					></thead
				>
				<tbody>
					{#each data.acts as act (act.words)}
						<tr>
							<th scope="row">{act.words}</th>
							{#each act.by as allowed, i (i)}<td
									>{#if allowed}<Check size={15} aria-hidden="true" /><span class="sr">yes</span>{:else}<span class="sr">no</span>{/if}</td
								>{/each}
						</tr>
					{/each}
				</tbody>
			</table>
		</div>
	</section>
</WholeSheet>

<style>
	.person {
		display: grid;
		grid-template-columns: minmax(0, 15rem) minmax(0, 1fr) auto minmax(13rem, auto);
		gap: 0.3rem 1.25rem;
		align-items: center;
		padding: 0.45rem 0;
		border-bottom: 1px solid var(--rule);
		font-size: 0.92rem;
	}
	.lost {
		grid-column: 2 / -1;
		font-size: 0.85rem;
	}
	table {
		border-collapse: collapse;
	}
	th,
	td {
		padding: 5px 14px;
		border-bottom: 1px solid var(--rule);
		text-align: center;
		font-weight: 400;
	}
	thead th {
		font-size: 0.82rem;
		color: var(--half);
	}
	tbody th {
		text-align: left;
		padding-left: 0;
	}
	td :global(svg) {
		display: inline;
	}
	@media (max-width: 800px) {
		.person {
			grid-template-columns: 1fr;
		}
		.lost {
			grid-column: auto;
		}
	}
</style>
