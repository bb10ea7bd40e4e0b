<script lang="ts">
	import { FACT_NAMES } from '$lib/core/clients/facts';
	import ClientFacts from '$lib/ui/record/ClientFacts.svelte';
	import RecordLine from '$lib/ui/record/RecordLine.svelte';
	import type { ClientRecord } from '../record.svelte';

	/** What is known of the client. */
	let { record }: { record: ClientRecord } = $props();
	const { data, client } = $derived(record);
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
		<span class="text-(--half)">{data.facts.length} of {FACT_NAMES.length} facts known</span>
	</p>
	{#snippet more()}
		{#key client.id}<ClientFacts clientId={client.id} facts={data.facts} mayChange={record.mine('keep_record')} />{/key}
	{/snippet}
</RecordLine>
