<script lang="ts">
	import type { Attachment } from 'svelte/attachments';

	let {
		name,
		field,
		id,
		action,
		handling,
		pending = false
	}: {
		/** of whoever has lost it */
		name: string;
		/** the field that says who it is, and what it holds */
		field: string;
		id: string;
		/** where the form goes */
		action: string;
		handling: Attachment<HTMLFormElement>;
		pending?: boolean;
	} = $props();
</script>

<details>
	<summary class="act-link w-fit" aria-label="Lost their second step: {name}">Lost their second step …</summary>
	<form method="post" {action} class="mt-1 max-w-prose" {@attach handling}>
		<input type="hidden" name={field} value={id} />
		<p class="text-(--half)">
			Make sure first that it is {name.split(' ')[0]} who asks: see them, or call a number you know. They are signed out everywhere, told by mail, and come
			in by their password alone until they set one up again.
		</p>
		<button class="act-quiet mt-1" disabled={pending}>Remove the second step</button>
	</form>
</details>
