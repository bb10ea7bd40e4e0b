<script lang="ts">
	import { isOpen, isSettled } from '$lib/core/requests/item-states';
	import FilesToApprove from '../../portal/FilesToApprove.svelte';
	import type { ReviewProps } from '../review';

	let { item, leaf }: ReviewProps<'approve'> = $props();
	const verdict = $derived(isOpen(item.state) ? null : item.answerData);
</script>

{#if verdict}
	<p class="notice-lamp">
		<b>{item.contactName}</b>
		{verdict.agrees ? 'agrees.' : 'wants a change.'}{#if verdict.words}&nbsp;“{verdict.words}”{/if}
	</p>
{/if}
<FilesToApprove
	{item}
	filesAt="/desk/attachments"
	remarks={leaf.remarks}
	locale="en"
	pinAt={isSettled(item.state) ? null : `/desk/items/${item.id}?/pin`}
	version={item.version}
/>
