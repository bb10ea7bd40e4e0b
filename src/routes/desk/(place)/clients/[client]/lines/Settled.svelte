<script lang="ts">
	import RecordLine from '$lib/ui/record/RecordLine.svelte';
	import { isSettled } from '$lib/core/requests/item-states';
	import AskedItem from './AskedItem.svelte';
	import { count, list, type ClientRecord } from '../record.svelte';

	/** What is settled. */
	let { record }: { record: ClientRecord } = $props();
</script>

{#if record.settled.length > 0}
	<RecordLine name="settled" heading="settled" act="show" open={record.opened.has('settled')} toggle={record.toggle}>
		{@const letters = record.settled.filter((item) => item.kind === 'letter').length}
		{@const papers = record.settled.filter((item) => item.kind === 'paper').length}
		{@const answers = record.settled.filter((item) => item.kind === 'question' || item.kind === 'questionnaire').length}
		{@const others = record.settled.length - letters - papers - answers}
		<p>
			{list([
				...(letters > 0 ? [count(letters, 'letter', 'letters')] : []),
				...(papers > 0 ? [count(papers, 'paper', 'papers')] : []),
				...(answers > 0 ? [count(answers, 'answer', 'answers')] : []),
				...(others > 0
					? [count(others, others === record.settled.length ? 'thing' : 'other', others === record.settled.length ? 'things' : 'others')]
					: [])
			])}<span class="text-(--half)"
				>, the last {record.day(
					record.settled
						.map((item) => item.stateAt)
						.sort()
						.at(-1)!
				)}</span
			>
		</p>
		{#snippet more()}
			{#each record.requests.filter((request) => request.settled > 0) as request (request.id)}
				<h4 class="mt-1 font-sans text-[0.8rem] font-semibold text-(--half)">
					{request.title}, {request.finished ? 'finished' : `${request.settled} of ${request.items.length} settled`}
				</h4>
				<ul>
					{#each request.items.filter((item) => isSettled(item.state)) as item (item.id)}<AskedItem {record} {item} />{/each}
				</ul>
			{/each}
		{/snippet}
	</RecordLine>
{/if}
