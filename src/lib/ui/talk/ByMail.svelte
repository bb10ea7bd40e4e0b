<script lang="ts">
	import type { MailBeside } from '$lib/server/items/remarks';

	/** How words came by mail: from which address, what stood below them, and the files that came along. */
	let { mail, clientId }: { mail: MailBeside; clientId: string } = $props();
	let open = $state(false);
</script>

<p class="mt-1 text-[0.8rem] text-(--half)">
	by e-mail from {mail.from}{#if mail.files.length > 0}, with
		{#each mail.files as file, n (file.id)}{n > 0 ? ', ' : ''}<a class="act-link" href="/desk/clients/{clientId}/papers/{file.id}">{file.name}</a
			>{/each}{/if}{#if mail.folded}&nbsp;·
		<button type="button" class="act-link" aria-expanded={open} onclick={() => (open = !open)}>{open ? 'hide' : 'show'} what stood below</button>{/if}
</p>
{#if open}<p class="mt-1 max-h-60 overflow-auto border-l-2 border-(--rule-strong) pl-3 text-[0.8rem] break-words whitespace-pre-line text-(--half)">
		{mail.folded}
	</p>{/if}
