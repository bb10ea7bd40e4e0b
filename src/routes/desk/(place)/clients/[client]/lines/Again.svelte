<script lang="ts">
	import RecordLine from '$lib/ui/record/RecordLine.svelte';
	import type { ClientRecord } from '../record.svelte';

	/** What is asked regularly. */
	let { record }: { record: ClientRecord } = $props();
	const { data, client } = $derived(record);
</script>

{#if data.recurring.length > 0 || (client.state === 'active' && record.mine('send_request'))}
	<RecordLine name="again" heading="again" act="" open={false} toggle={record.toggle}>
		<ul>
			{#each data.recurring as recurring (recurring.id)}<li class:text-(--half)={recurring.state === 'ended'}>
					<a class="row-link" href="/desk/clients/{client.id}/standing/{recurring.id}">{recurring.title}</a>{#if recurring.next}, next {recurring.next}{/if}
					<span class="text-(--half)"
						>{recurring.rule}{recurring.state !== 'running' ? `; ${recurring.state}` : recurring.next ? '' : '; nothing comes any more'}</span
					>
				</li>{/each}
		</ul>
		{#if client.state === 'active' && record.mine('send_request')}<a class="act-link" href="/desk/clients/{client.id}/standing"
				>Set up a standing request</a
			>{/if}
	</RecordLine>
{/if}
