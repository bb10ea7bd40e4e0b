<script lang="ts">
	import { onceSigned } from '$lib/core/requests/after-letters';
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
					<span class="text-(--half)"
						>{count(draft.lines, 'line', 'lines')}, {draft.after.length === 0
							? `not sent yet; ${draft.changed}`
							: draft.problem
								? 'did not go by itself'
								: `goes by itself ${onceSigned(draft.after)}`}</span
					>
				</li>{/each}
		</ul>
	</RecordLine>
{/if}
