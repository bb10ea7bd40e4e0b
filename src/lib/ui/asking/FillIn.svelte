<script lang="ts">
	import type { ItemRow } from '$lib/server/items/read-items';
	import { enhancedForm, type FormHandling } from '../forms/enhanced-form';
	import { deskSideOf } from '../items/desk-side';

	/** Writes down what a client says by phone. */
	let { item, handling, pending, fields }: { item: ItemRow; handling: FormHandling; pending: boolean; fields: Record<string, string> } = $props();
	const byPhone = $derived(deskSideOf(item.kind).byPhone);
</script>

{#if byPhone}
	{@const { Fields, act } = byPhone}
	<form method="post" action="/desk/items/{item.id}?/{act}" class="notice-lamp space-y-3" novalidate {@attach enhancedForm(handling)}>
		<input type="hidden" name="version" value={item.version} />
		<p class="text-sm">What {item.contactName.split(' ')[0]} says. It is saved as noted by you.</p>
		<Fields {item} {fields} />
		<button class="act-quiet" disabled={pending}>Save the answer</button>
	</form>
{/if}
