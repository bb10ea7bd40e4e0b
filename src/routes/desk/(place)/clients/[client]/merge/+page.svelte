<script lang="ts">
	import { enhancedForm } from '$lib/ui/forms/enhanced-form';

	let { data } = $props();
	let problem = $state('');
	let pending = $state(false);
	const what = $derived(data.kind === 'client' ? 'client' : 'person');
	const address = (other: string) => `?${data.kind === 'contact' ? `contact=${data.keepId}&` : ''}with=${other}`;
	const preview = $derived(data.preview);
	const WHAT: Record<string, [one: string, many: string]> = {
		requests: ['request', 'requests'],
		papers: ['paper', 'papers'],
		people: ['person', 'people'],
		engagements: ['engagement', 'engagements'],
		notes: ['note', 'notes'],
		clients: ['client', 'clients'],
		messages: ['message', 'messages']
	};
	const moves = $derived(preview?.moves.map(({ what, count }) => `${count} ${WHAT[what][count === 1 ? 0 : 1]}`).join(', ') ?? '');
</script>

<svelte:head><title>Merge {data.keepName} · {data.firm.name}</title></svelte:head>

<div class="p-5 pr-10">
	{#if !preview}
		<h2 class="text-[1.3rem]">Which {what} is the same as {data.keepName}?</h2>
		<p class="mt-1 text-sm text-(--half)">You see what happens to each field first, and it can be undone for 30 days.</p>
		{#if data.likely.length > 0}
			<ul class="mt-4">
				{#each data.likely as other (other.id)}
					<li class="flex flex-wrap items-baseline gap-x-3 border-b border-(--rule-strong) py-2 text-sm">
						<a class="font-semibold underline decoration-dotted underline-offset-2" href={address(other.id)}>{other.name}</a>
						<span class="text-(--half)">{other.why}{other.email ? `, ${other.email}` : ''}</span>
					</li>
				{/each}
			</ul>
		{:else}<p class="mt-4 text-sm text-(--half)">Nobody looks like the same {what}.</p>{/if}
		{#if data.kind === 'client'}
			<form class="mt-5 flex items-end gap-2">
				<label class="field flex-1"
					><span>Another client, by any part of what is known</span><input name="search" value={data.search} maxlength="100" /></label
				>
				<button class="act-quiet">Find</button>
			</form>
			<ul class="mt-2">
				{#each data.found as other (other.id)}<li class="border-b border-(--rule-strong) py-2 text-sm">
						<a class="font-semibold underline decoration-dotted underline-offset-2" href={address(other.id)}>{other.name}</a>
					</li>{:else}{#if data.search}<li class="py-2 text-sm text-(--half)">Nobody matches.</li>{/if}{/each}
			</ul>
		{/if}
		<p class="mt-5"><a class="act-quiet" href="/desk/clients/{data.client.id}">Cancel</a></p>
	{:else}
		<h2 class="text-[1.3rem]">Merge {preview.gone.name} into {preview.keep.name}</h2>
		<p class="mt-1 text-sm text-(--half)">
			{moves ? `${moves} of ${preview.gone.name} move here.` : `Nothing else belongs to ${preview.gone.name}.`}
			{data.kind === 'contact'
				? 'One person keeps one sign-in; the other one’s sessions end.'
				: 'What is asked, handed in and signed keeps its state.'}
			It can be undone for 30 days.
		</p>
		{#if problem}<p class="notice-wrong mt-3" role="alert">{problem}</p>{/if}
		<form
			method="post"
			action="?/merge"
			class="mt-4"
			{@attach enhancedForm({ onPending: (p) => (pending = p), onProblem: (p) => (problem = p.message) })}
		>
			<input type="hidden" name="kind" value={data.kind} />
			<input type="hidden" name="keepId" value={preview.keep.id} />
			<input type="hidden" name="goneId" value={preview.gone.id} />
			{#each preview.choices as choice (choice.field)}
				<fieldset class="choice">
					<legend>{choice.label}</legend>
					<label><input type="radio" name="take.{choice.field}" value="kept" checked={choice.proposed === 'kept'} /> {choice.kept ?? 'nothing'}</label
					>
					<label><input type="radio" name="take.{choice.field}" value="gone" checked={choice.proposed === 'gone'} /> {choice.gone}</label>
				</fieldset>
			{:else}<p class="text-sm">They differ in nothing that would have to be chosen.</p>{/each}
			<div class="mt-4 flex gap-2">
				<button class="act" disabled={pending}>Merge into one {what}</button>
				<a class="act-quiet" href="/desk/clients/{data.client.id}">Cancel</a>
			</div>
		</form>
	{/if}
</div>

<style>
	.choice {
		display: grid;
		grid-template-columns: 9rem 1fr 1fr;
		gap: 0.75rem;
		padding: 0.45rem 0;
		border-bottom: 1px solid var(--rule-strong);
		font-size: 0.9rem;
	}
	.choice legend {
		float: left;
		color: var(--half);
	}
	.choice label {
		display: flex;
		align-items: baseline;
		gap: 0.5rem;
		min-width: 0;
		overflow-wrap: anywhere;
	}
	@media (max-width: 640px) {
		.choice {
			grid-template-columns: 1fr;
		}
	}
</style>
