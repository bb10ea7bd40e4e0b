<script lang="ts">
	import type { TriedReminder, TriedWith } from '$lib/server/chasing/what-works';

	/** What was tried with one person in the last year, and what it tells of them. */
	let { tried, time, calls = true }: { tried: TriedWith; /** an instant in words */ time: (at: string) => string; calls?: boolean } = $props();
	const SHOWN = 5;
	let all = $state(false);
	const first = $derived(tried.name.split(' ')[0]);
	const CALLED: Record<string, string> = { reached: 'reached', promised: 'promised it', refused: 'will not do it' };
	const came = (one: TriedReminder): string =>
		one.answered ? 'answered within two days' : one.came ? 'came to the page, no answer' : one.fresh ? 'went just now' : 'nothing came of it';
	const entries = $derived(
		[
			...tried.reminders.map((one, i) => ({
				id: `reminder ${i}`,
				at: one.at,
				what: one.way === 'text' ? 'reminder by text message' : 'reminder by e-mail',
				then: came(one)
			})),
			...(calls ? tried.calls : []).map((one, i) => ({
				id: `call ${i}`,
				at: one.at,
				what: `call by ${one.by}`,
				then: `${CALLED[one.outcome] ?? one.outcome}${one.note ? `: “${one.note}”` : ''}`
			}))
		].sort((a, b) => b.at.localeCompare(a.at))
	);
</script>

<section aria-labelledby="tried-{tried.contactId}">
	<h3 id="tried-{tried.contactId}" class="text-[1rem]">What was tried with {first}</h3>
	<p class="mt-1 text-sm">{tried.works}</p>
	{#if entries.length > 0}<ul class="mt-1 text-sm">
			{#each all ? entries : entries.slice(0, SHOWN) as entry (entry.id)}<li class="border-t border-(--rule) py-1">
					{time(entry.at)}, {entry.what} <span class="text-(--half)">· {entry.then}</span>
				</li>{/each}
		</ul>
		{#if entries.length > SHOWN}<button type="button" class="act-link mt-1 min-h-6 text-sm" aria-expanded={all} onclick={() => (all = !all)}
				>{all ? 'Show fewer' : `Show all ${entries.length} of the last year`}</button
			>{/if}{/if}
</section>
