<script lang="ts">
	import type { FoundWords } from '$lib/server/talk/find-written';
	import { timeWords } from '$lib/words/dates';

	/** Finds what was written at a client: to them, by them, and our notes. */
	let { clientId, timeZone }: { clientId: string; timeZone: string } = $props();
	/** after the last key, so that one asks once for a word */
	const WAIT_MS = 200;
	let typed = $state('');
	let answer = $state<{ of: string; found: FoundWords[]; more: boolean } | null>(null);
	let failed = $state(false);
	let waiting: ReturnType<typeof setTimeout> | undefined;
	let asked = 0;

	function find() {
		clearTimeout(waiting);
		const of = typed.trim();
		if (of === '') {
			asked++;
			answer = null;
			return;
		}
		waiting = setTimeout(async () => {
			const mine = ++asked;
			const got = await fetch(`/desk/clients/${clientId}/written?${new URLSearchParams({ find: of })}`).then(
				async (response) => (response.ok ? ((await response.json()) as Omit<NonNullable<typeof answer>, 'of'>) : null),
				() => null
			);
			// an answer to what was typed before says nothing any more
			if (mine !== asked) return;
			failed = got === null;
			answer = got && { of, ...got };
		}, WAIT_MS);
	}
	const placeOf = (one: FoundWords): string =>
		one.itemId ? `/desk/clients/${clientId}/item/${one.itemId}` : `/desk/clients/${clientId}/words/${one.contactId}`;
</script>

<div role="search" aria-label="What was written" class="mb-3">
	<label class="field"
		><span>Find what was written</span><input
			type="search"
			bind:value={typed}
			oninput={find}
			maxlength="200"
			autocomplete="off"
			placeholder="words of theirs, of ours, of a note"
		/></label
	>
	<p class="mt-1 text-sm text-(--half)" aria-live="polite">
		{#if failed}It could not be looked up just now. Type on to try again.
		{:else if answer && answer.found.length === 0}Nothing has “{answer.of}” in it.
		{:else if answer}{answer.more
				? `The last ${answer.found.length} with “${answer.of}”; there may be more.`
				: `${answer.found.length === 1 ? 'One' : answer.found.length} with “${answer.of}”.`}{/if}
	</p>
	{#if answer && !failed}<ul class="text-sm">
			{#each answer.found as one (one.id)}<li class="border-t border-(--rule-strong) py-1.5" class:ours={one.ours}>
					<p class="break-words">
						{#each one.pieces as piece, i (i)}{#if piece.found}<mark>{piece.text}</mark>{:else}{piece.text}{/if}{/each}
					</p>
					<p class="text-[0.8rem] text-(--half)">
						{#if one.ours}<b class="text-(--ink)">only us</b> ·
						{/if}{one.by}, {timeWords('en', one.writtenAt, timeZone)}{#if one.about},
							<a class="row-link" href={placeOf(one)} data-sveltekit-noscroll>{one.itemId ? one.about : `the talk with ${one.about}`}</a>{/if}
					</p>
				</li>{/each}
		</ul>{/if}
</div>

<style>
	.ours {
		border-left: 3px dashed var(--margin-line);
		background: var(--note);
		padding: 6px 12px;
	}
	mark {
		background: var(--lamp-soft);
		color: inherit;
		box-shadow: inset 0 -2px 0 var(--lamp-edge);
	}
</style>
