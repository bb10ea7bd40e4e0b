<script lang="ts">
	import { soonerInWords } from '$lib/core/chasing/sooner';
	import type { AwaitableThing } from '$lib/server/chasing/holds';

	/** What lets paused reminders go again before their day: nothing, a sign of life, or one of the open things of the client. */
	let { things }: { things: readonly AwaitableThing[] } = $props();
</script>

<label class="field max-w-full"
	><span>Or sooner</span><select name="sooner" class="max-w-full"
		><option value="">no, on that day</option><option value="heard">once they write, hand something in or open their page</option
		>{#each things as { id, title, letter } (id)}<option value={id}>{soonerInWords({ endsWith: 'done', title, letter })}</option>{/each}</select
	></label
>
