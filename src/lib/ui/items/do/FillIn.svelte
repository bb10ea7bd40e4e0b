<script lang="ts">
	import type { FillInProps } from '../fill-in';

	let { item }: FillInProps<'do'> = $props();
</script>

<p class="text-sm">{item.contactName.split(' ')[0]} says that it is done.</p>
