<script lang="ts">
	import { whereWeAre } from '$lib/core/clients/where-we-are';
	import { enhancedForm } from '$lib/ui/forms/enhanced-form';
	import RecordLine from '$lib/ui/record/RecordLine.svelte';
	import { count, type ClientRecord } from '../record.svelte';

	/** Where we are with the client, in a sentence. */
	let { record }: { record: ClientRecord } = $props();
	const { data, client } = $derived(record);
	const signed = $derived(data.items.filter((item) => item.kind === 'letter' && item.letter?.sealedAt).at(-1));
	const cameIn = $derived(
		client.contacts
			.map((contact) => contact.invitation?.takenUpAt ?? null)
			.filter((at) => at !== null)
			.sort()[0]
	);
	/** Below the sentence: what is behind us. */
	const soFar = $derived(
		[
			signed && `Letter signed ${record.day(signed.letter!.sealedAt!)}`,
			cameIn && `in the portal since ${record.day(cameIn)}`,
			...(record.going.length === 1
				? [`${record.going[0].title}: ${record.going[0].settled} of ${record.going[0].items.length} settled`]
				: data.items.length > 0
					? [`${record.settled.length} of ${data.items.length} settled in ${count(record.requests.length, 'request', 'requests')}`]
					: [])
		].filter((part) => !!part)
	);
	let mergeProblem = $state('');
</script>

<RecordLine name="where" heading="where" act="" open={false} toggle={record.toggle}>
	<p class="sentence">{whereWeAre({ state: client.state, items: data.items }, data.today)}</p>
	{#if client.state !== 'active'}<p>
			<b>{client.state === 'locked' ? 'Locked' : 'No longer a client'}</b> since {record.time(client.stateAt!)}, by {client.stateBy}: “{client.stateReason}”.
			{client.state === 'locked' ? 'Nothing is asked and nobody is reminded.' : 'They can still read what they handed in.'}
		</p>{/if}
	{#if soFar.length > 0}<p class="text-(--half)">{soFar.join(' · ')}</p>{/if}
	{#if data.doubles.length > 0 && record.mine('close_client')}<p>
			<b class="text-(--lamp-deep)">Perhaps the same client:</b>
			{#each data.doubles as other, i (other.id)}{i > 0 ? '; ' : ''}<a class="act-link" href="/desk/clients/{client.id}/merge?with={other.id}"
					>{other.name}</a
				>
				{other.why}{/each}.
		</p>{/if}
	{#each data.merges as merge (merge.id)}
		<form
			method="post"
			action="/desk/clients/{client.id}/merge?/undo"
			class="flex flex-wrap items-baseline gap-x-3"
			{@attach enhancedForm({ onProblem: (p) => (mergeProblem = p.message) })}
		>
			<input type="hidden" name="mergeId" value={merge.id} />
			<span class="text-(--half)">{merge.by} merged {merge.kind === 'client' ? 'the client' : 'the person'} {merge.goneName} in on {merge.on}.</span>
			{#if record.mine('close_client')}<button class="act-link">Undo the merge</button>{/if}
		</form>
	{/each}
	{#if mergeProblem}<p class="notice-wrong mt-2" role="alert">{mergeProblem}</p>{/if}
</RecordLine>

<style>
	.sentence {
		font-family: 'Source Serif 4 Variable', serif;
		font-size: 1.12rem;
		font-weight: 600;
		line-height: 1.35;
	}
</style>
