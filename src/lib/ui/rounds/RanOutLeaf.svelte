<script lang="ts">
	import { dateWords } from '$lib/words/dates';
	import { daysLate } from '$lib/core/requests/lateness';
	import { invalidateAll } from '$app/navigation';
	import { enhancedForm } from '../forms/enhanced-form';
	import { leafKeys } from '../desk/leaf-keys';
	import type { LeafProps } from './leaf-props';
	import Tried from './Tried.svelte';

	let { leaf, mine, pending, problem, handling, time, openNext }: LeafProps<'ran_out'> = $props();
</script>

<div class="space-y-4 p-5 pr-10" {@attach leafKeys}>
	<header>
		<h2 class="text-[1.2rem]">{leaf.client.name}: the reminders have run out</h2>
		<p class="text-sm text-(--half)">No more reminders go out. A phone call helps now.</p>
	</header>
	<dl class="facts">
		{#each leaf.client.contacts as contact (contact.id)}<div>
				<dt>{contact.name}</dt>
				<dd>
					{#if contact.phone}<a class="font-semibold underline decoration-dotted underline-offset-2" href="tel:{contact.phone}">{contact.phone}</a><br
						/>{/if}
					{contact.email ?? 'no e-mail address'}<br /><span class="text-(--half)"
						>{contact.lastSeenAt ? `last here ${time(contact.lastSeenAt)}` : 'never signed in'}</span
					>
				</dd>
			</div>{/each}
	</dl>
	{#each leaf.tried as tried (tried.contactId)}<Tried {tried} {time} />{/each}
	{#if problem}<p class="notice-wrong" role="alert">{problem}</p>{/if}
	{#if mine('judge_item')}<p class="text-sm">
			Agreed on a date, or not needed any more? Say so line by line; when the last one is settled, this row leaves Rounds.
		</p>{/if}
	<ul data-acts>
		{#each leaf.items as item (item.id)}
			<li class="border-t border-(--rule-strong) py-2.5 text-sm">
				<p>
					<a class="font-semibold underline decoration-dotted underline-offset-2" href="/desk/clients/{leaf.client.id}/item/{item.id}">{item.title}</a
					> <span class="text-(--half)">{daysLate(item, leaf.today)} days late, {item.chasesSent} reminders</span>
				</p>
				{#if mine('judge_item')}<div class="mt-1.5 flex flex-wrap gap-2">
						<form
							method="post"
							action="/desk/items/{item.id}?/moveDue"
							class="flex gap-2"
							{@attach enhancedForm({
								...handling,
								onSuccess: leaf.items.filter((i) => i.nextChaseOn === null).length > 1 ? () => invalidateAll() : openNext
							})}
						>
							<input type="hidden" name="version" value={item.version} />
							<input type="date" name="dueOn" class="line-input !w-auto" min={leaf.today} required aria-label="New due date of {item.title}" />
							<button class="act-quiet" disabled={pending}>Set this date</button>
						</form>
						<form
							method="post"
							action="/desk/items/{item.id}?/waive"
							{@attach enhancedForm({
								...handling,
								onSuccess: leaf.items.filter((i) => i.nextChaseOn === null).length > 1 ? () => invalidateAll() : openNext
							})}
						>
							<input type="hidden" name="version" value={item.version} />
							<button class="act-quiet" disabled={pending}>Waive</button>
						</form>
					</div>{/if}
				{#if item.nextChaseOn}<p class="mt-1 text-xs text-(--half)">
						Settled: due {dateWords('en', item.dueOn!)}, next reminder {dateWords('en', item.nextChaseOn)}.
					</p>{/if}
			</li>
		{/each}
	</ul>
</div>
