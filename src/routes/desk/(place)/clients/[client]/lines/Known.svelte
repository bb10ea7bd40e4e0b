<script lang="ts">
	import ClientFacts from '$lib/ui/record/ClientFacts.svelte';
	import RecordLine from '$lib/ui/record/RecordLine.svelte';
	import type { ClientRecord } from '../record.svelte';

	/** What is known of the client. */
	let { record }: { record: ClientRecord } = $props();
	const { data, client } = $derived(record);
	const all = $derived(data.definitions.filter(({ name, retired }) => !retired || data.facts.some((fact) => fact.name === name)).length);
	const toConfirm = $derived(data.facts.filter((fact) => fact.toConfirm).length);
</script>

<RecordLine
	name="known"
	heading="known"
	act={record.mine('keep_record') ? 'change' : 'show'}
	open={record.opened.has('known')}
	toggle={record.toggle}
>
	<p>
		{data.shortFacts.join(' · ')}
		<span class="text-(--half)">{data.facts.length} of {all} facts known</span>
		{#if toConfirm > 0}<span class="text-(--lamp-deep)">· {toConfirm} to be confirmed</span>{/if}
	</p>
	{#snippet more()}
		{#key client.id}<ClientFacts
				clientId={client.id}
				facts={data.facts}
				definitions={data.definitions}
				papers={data.papers}
				mayChange={record.mine('keep_record')}
			/>{/key}
	{/snippet}
</RecordLine>
