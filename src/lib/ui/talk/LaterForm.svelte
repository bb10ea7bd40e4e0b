<script lang="ts">
	import { page } from '$app/state';
	import { addDays } from '$lib/core/calendar/firm-calendar';
	import { LATER_MOST_DAYS } from '$lib/core/talk/later';
	import { dateWords, dayOf } from '$lib/words/dates';
	import type { Remark } from '$lib/server/items/remarks';
	import { enhancedForm } from '../forms/enhanced-form';

	/** Puts off the answer to what a client wrote. */
	let {
		action,
		words,
		version,
		begin,
		sent
	}: {
		action: string;
		/** all that was written; what nobody has seen is put off */ words: readonly Remark[];
		/** of the item that it is about */ version?: number;
		/** before it is put off */ begin?: () => void;
		/** once it is */ sent?: () => void | Promise<void>;
	} = $props();
	let open = $state(false);
	let problem = $state('');
	let pending = $state(false);
	const today = $derived(dayOf(page.data.now, page.data.firm.timeZone));
	/** until when it is put off: not any more once that day has come, or they have written again */
	const put = $derived.by(() => {
		const last = words.findLast(({ side, seenAt }) => side === 'client' && !seenAt)?.later ?? null;
		return last && last.until > today ? last : null;
	});
</script>

{#if put}<p class="text-sm text-(--half)">
		Put off until {dateWords('en', put.until)} by {put.by}. It is in Rounds again then, or once they write.
	</p>{/if}
<button type="button" class="act-link min-h-6 text-sm" aria-expanded={open} onclick={() => (open = !open)}>Answer later …</button>
{#if open}<form
		method="post"
		{action}
		class="flex flex-wrap items-end gap-3"
		{@attach enhancedForm({
			onPending(begins) {
				pending = begins;
				if (begins) begin?.();
			},
			onProblem: (p) => (problem = p.fields.until ?? p.message),
			async onSuccess() {
				problem = '';
				open = false;
				await sent?.();
			}
		})}
	>
		{#if problem}<p class="notice-wrong w-full" role="alert">{problem}</p>{/if}
		{#if version !== undefined}<input type="hidden" name="version" value={version} />{/if}
		<!-- svelte-ignore a11y_autofocus --><label class="field"
			><span>Not in Rounds before</span><input
				type="date"
				name="until"
				min={addDays(today, 1)}
				max={addDays(today, LATER_MOST_DAYS)}
				value={addDays(today, 1)}
				required
				autofocus
				aria-invalid={problem ? 'true' : undefined}
			/></label
		>
		<button class="act-quiet" disabled={pending}>Put it off</button>
		<span class="basis-full text-xs text-(--half)">What they write until then stands in Rounds at once.</span>
	</form>{/if}
