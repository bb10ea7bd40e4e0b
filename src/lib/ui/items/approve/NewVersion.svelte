<script lang="ts">
	import { filesToApprove } from '$lib/core/requests/files-beside';
	import { isOpen } from '$lib/core/requests/item-states';
	import type { AttachmentRow } from '$lib/server/attachments/attachments';
	import AttachmentFields from '../../asking/AttachmentFields.svelte';
	import { enhancedForm } from '../../forms/enhanced-form';
	import type { NewVersionProps } from '../new-version';

	/** Puts a new version in the place of a file that is shown for approval. */
	let { item, handling, pending }: NewVersionProps<'approve'> = $props();
	const { current } = $derived(filesToApprove(item));
	let ids = $state<string[]>([]);
	let files = $state<Record<string, AttachmentRow>>({});
	const first = $derived(item.contactName.split(' ')[0]);
</script>

<form method="post" action="/desk/items/{item.id}?/putUpNewVersion" class="space-y-3" {@attach enhancedForm(handling)}>
	<input type="hidden" name="version" value={item.version} />
	<input type="hidden" name="attachmentId" value={ids.at(-1) ?? ''} />
	{#if current.length > 1}
		<label class="field"
			><span>In the place of</span><select name="replaces"
				>{#each current as file (file.id)}<option value={file.id}>{file.name}</option>{/each}</select
			></label
		>
	{:else}<input type="hidden" name="replaces" value={current[0]?.id ?? ''} />{/if}
	<AttachmentFields bind:ids bind:files needed={true} one={true} />
	<label class="field"
		><span>What is new in it? {item.contactName} reads this.</span><textarea name="reason" rows="3" maxlength="1000" required
			>We have changed it. Please look at it again.</textarea
		></label
	>
	<button class="act" disabled={pending || ids.length === 0}>{isOpen(item.state) ? `Tell ${first}` : `Ask ${first} again`}</button>
	<p class="text-xs text-(--half)">The version before stays to be read, with what was pinned to it.</p>
</form>
