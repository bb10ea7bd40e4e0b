<script lang="ts">
	import type { FillInProps } from '../fill-in';

	let { item }: FillInProps<'read'> = $props();
</script>

<p class="text-sm">{item.contactName.split(' ')[0]} has read it.</p>
