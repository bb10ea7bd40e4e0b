<script lang="ts">
	import { filesToApprove } from '$lib/core/requests/files-beside';
	import type { ItemOf } from '$lib/server/items/read-items';
	import type { Remark } from '$lib/server/items/remarks';
	import { sayer } from '$lib/words/words';
	import ApproveFile from './ApproveFile.svelte';

	/** The files that are shown for approval, and folded away those that newer versions took the place of. */
	let {
		item,
		filesAt,
		remarks,
		locale,
		pinAt,
		version = null,
		firstPages = false
	}: {
		item: Pick<ItemOf<'approve'>, 'attachments' | 'text' | 'spec'>;
		filesAt: string;
		remarks: Remark[];
		locale: string;
		/** where a pinned remark goes; null if none may be pinned */ pinAt: string | null;
		version?: number | null;
		/** whether pictures of the first pages can be had */ firstPages?: boolean;
	} = $props();
	const say = $derived(sayer(locale));
	const files = $derived(filesToApprove(item));
</script>

{#each files.current as file (file.id)}<ApproveFile
		{file}
		src="{filesAt}/{file.id}"
		{remarks}
		{locale}
		{pinAt}
		{version}
		firstPage={firstPages}
	/>{/each}
{#if files.earlier.length > 0}
	<details class="mt-3">
		<summary class="cursor-pointer py-2 text-(--half)">{say('item.approve.earlier')}</summary>
		{#each files.earlier as file (file.id)}<ApproveFile {file} src="{filesAt}/{file.id}" {remarks} {locale} />{/each}
	</details>
{/if}
