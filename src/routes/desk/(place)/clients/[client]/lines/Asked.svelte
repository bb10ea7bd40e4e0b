<script lang="ts">
	import RecordLine from '$lib/ui/record/RecordLine.svelte';
	import AskedItem from './AskedItem.svelte';
	import type { ClientRecord } from '../record.svelte';

	/** A line of things asked: the first few, and all of them once it is opened. */
	let {
		record,
		name,
		heading,
		items,
		lit = false
	}: { record: ClientRecord; name: string; heading: string; items: ClientRecord['data']['items']; lit?: boolean } = $props();
	/** that are shown before the rest is asked for */
	const FEW = 6;
</script>

{#snippet those(some: typeof items)}
	<ul>
		{#each some as item (item.id)}<AskedItem {record} {item} />{/each}
	</ul>
{/snippet}
{#snippet all()}{@render those(items)}{/snippet}
<RecordLine
	{name}
	{heading}
	act="show all {items.length}"
	{lit}
	open={record.opened.has(name)}
	toggle={record.toggle}
	more={items.length > FEW ? all : undefined}
>
	{@render those(items.slice(0, FEW))}
</RecordLine>
