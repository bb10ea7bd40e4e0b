<script lang="ts">
	import { sizeWords } from '$lib/words/dates';
	import { say } from '$lib/words/words';

	/** Files of the firm beside something asked, to read or to keep. */
	let {
		files,
		filesAt,
		locale
	}: {
		files: readonly { id: string; name: string; bytes: number }[];
		/** address under which the firm's files are found */ filesAt: string;
		locale: string;
	} = $props();
</script>

{#if files.length > 0}
	<ul class="mt-4" aria-label={say(locale, 'item.files')}>
		{#each files as file (file.id)}<li class="flex items-center gap-3 border-b border-(--rule-strong)">
				<a class="act-link min-w-0 flex-1 !block truncate !leading-[44px]" href="{filesAt}/{file.id}" target="_blank" rel="noopener">{file.name}</a
				><span class="text-sm whitespace-nowrap text-(--half)">{sizeWords(locale, file.bytes)}</span>
			</li>{/each}
	</ul>
{/if}
