<script lang="ts">
	import RecordLine from '$lib/ui/record/RecordLine.svelte';
	import { count, type ClientRecord } from '../record.svelte';

	/** What was begun for the client and not sent. */
	let { record }: { record: ClientRecord } = $props();
	const { data, client } = $derived(record);
</script>

{#if data.drafts.length > 0}
	<RecordLine name="drafts" heading="drafts" act="" open={false} toggle={record.toggle}>
		<ul>
			{#each data.drafts as draft (draft.id)}<li>
					<a class="row-link font-semibold" href="/desk/clients/{client.id}/ask?draft={draft.id}">{draft.title || 'Untitled request'}</a>
					<span class="text-(--half)">{count(draft.lines, 'line', 'lines')}, not sent yet; {draft.changed}</span>
				</li>{/each}
		</ul>
	</RecordLine>
{/if}
