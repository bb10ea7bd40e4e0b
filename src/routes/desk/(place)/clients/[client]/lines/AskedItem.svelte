<script lang="ts">
	import { tickOf } from '$lib/core/requests/tick-strip';
	import { daysLate } from '$lib/core/requests/lateness';
	import { dateWords } from '$lib/words/dates';
	import TickMark from '$lib/ui/ticks/TickMark.svelte';
	import { isOpen, isSettled, ITEM_STATE_SHORT } from '$lib/core/requests/item-states';
	import { count, short, type ClientRecord } from '../record.svelte';

	/** Something that is asked, and how it stands. */
	let { record, item }: { record: ClientRecord; item: ClientRecord['data']['items'][number] } = $props();
	const { data, client } = $derived(record);
	const late = $derived(daysLate(item, data.today));
	const remark = $derived(data.remarks.find((one) => one.itemId === item.id));
	/** How it stands, beside its lateness. */
	const standing = $derived.by(() => {
		if (!isOpen(item.state))
			return `${ITEM_STATE_SHORT[item.state]} ${record.day(item.stateAt)}${item.papers.length > 0 && !isSettled(item.state) ? `, ${count(item.papers.length, 'file', 'files')}` : ''}`;
		return [
			late === 0 && item.dueOn ? `due ${dateWords('en', item.dueOn)}` : '',
			item.state === 'asked' ? '' : ITEM_STATE_SHORT[item.state],
			item.askedTimeUntil ? `asked for time until ${dateWords('en', item.askedTimeUntil)}` : ''
		]
			.filter((part) => part)
			.join(', ');
	});
</script>

<li class="flex items-baseline gap-2.5">
	<span class="translate-y-[1px]"><TickMark tick={tickOf(item, data.today)} /></span>
	<span class="min-w-0">
		<a class="row-link" href="/desk/clients/{client.id}/item/{item.id}" data-sveltekit-noscroll
			><span class={isSettled(item.state) ? '' : 'font-semibold'}>{item.title}</span></a
		>
		{#if late > 0}<b class="text-(--lamp-deep)">{late === 1 ? '1 day' : `${late} days`} late</b>{/if}
		<span class="text-(--half)">{standing}{record.going.length > 1 && !isSettled(item.state) ? `, in ${item.requestTitle}` : ''}</span>
		{#if remark?.side === 'client' && !isSettled(item.state)}<span class="text-(--half)"
				>“{short(remark.words)}”, {remark.by.split(' ')[0]} {record.day(remark.writtenAt)}</span
			>{/if}
	</span>
</li>
