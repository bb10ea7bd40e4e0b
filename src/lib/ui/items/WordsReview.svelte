<script lang="ts">
	import type { ItemKind } from '$lib/core/items/item-kinds';
	import type { ReviewProps } from './review';

	/** An answer that is words, whatever it was asked as. */
	let { item, answered }: ReviewProps<ItemKind> = $props();
</script>

{#if answered && item.answer}
	<blockquote class="serif border border-(--rule-strong) bg-(--sheet) p-4 text-[1.02rem] font-normal break-words whitespace-pre-wrap">
		{item.answer}
	</blockquote>
{/if}
