<script lang="ts">
	import RecordLine from '$lib/ui/record/RecordLine.svelte';
	import { count, type ClientRecord } from '../record.svelte';

	/** How many papers of the client are here, and the way to them. */
	let { record }: { record: ClientRecord } = $props();
	const papers = $derived(record.data.paperCount);
</script>

<RecordLine name="papers" heading="papers" act="" open={false} toggle={record.toggle}>
	<p>
		<a class="act-link" href="/desk/clients/{record.client.id}/papers"
			>{papers.here > 0 ? count(papers.here, 'paper', 'papers') : 'No papers yet; add the first'}</a
		>{#if papers.lastAt}<span class="text-(--half)"
				>, the last {record.day(papers.lastAt)}{papers.shown > 0 ? `; the client sees ${papers.shown} that we show them` : ''}</span
			>{/if}{#if papers.waiting > 0}<b class="font-semibold text-(--lamp-deep)">, {count(papers.waiting, 'has', 'have')} no place yet</b>{/if}
	</p>
</RecordLine>
