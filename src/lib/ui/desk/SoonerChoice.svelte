<script lang="ts">
	import { soonerInWords } from '$lib/core/chasing/sooner';
	import { dateWords } from '$lib/words/dates';
	import type { AwaitableThing } from '$lib/server/chasing/holds';

	/** What lets paused reminders go again before their day: nothing, a sign of life, or one of the open things of the client. */
	let { things }: { things: readonly AwaitableThing[] } = $props();
	/** What is asked month by month is called the same: the day it is due tells it apart. */
	function wordsOf({ id, title, letter, dueOn }: AwaitableThing): string {
		const words = soonerInWords({ endsWith: 'done', title, letter });
		return dueOn && things.some((other) => other.id !== id && other.title === title) ? `${words} (due ${dateWords('en', dueOn)})` : words;
	}
</script>

<label class="field max-w-full"
	><span>Or sooner</span><select name="sooner" class="max-w-full"
		><option value="">no, on that day</option><option value="heard">once they write, hand something in or open their page</option
		>{#each things as thing (thing.id)}<option value={thing.id}>{wordsOf(thing)}</option>{/each}</select
	></label
>
