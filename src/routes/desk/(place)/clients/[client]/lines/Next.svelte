<script lang="ts">
	import { dateWords } from '$lib/words/dates';
	import PauseReminders from '$lib/ui/record/PauseReminders.svelte';
	import Tried from '$lib/ui/rounds/Tried.svelte';
	import RecordLine from '$lib/ui/record/RecordLine.svelte';
	import type { ClientRecord } from '../record.svelte';

	/** What goes to the client next. */
	let { record }: { record: ClientRecord } = $props();
	const { data, client } = $derived(record);
	/** with whom what was tried is shown */ let shown = $state<string | null>(null);
</script>

{#snippet nextMessage(when: string, why: string)}<p>Reminder {when}, <span class="text-(--half)">{why}</span></p>{/snippet}
{#snippet allNext()}
	{#each record.messages as [when, chase] (when)}
		{@render nextMessage(when, chase.why)}
		<ul class="mb-1.5 ml-4 text-(--half)">
			{#each record.open.filter((item) => data.chases[item.id]?.when === when) as item (item.id)}<li>{item.title}</li>{/each}
		</ul>
	{/each}
{/snippet}
{#if client.state === 'active' && (record.open.length > 0 || record.invited.length > 0)}
	<RecordLine
		name="next"
		heading="next"
		act="show all"
		open={record.opened.has('next')}
		toggle={record.toggle}
		more={record.messages.length > 1 ? allNext : undefined}
	>
		{#if record.messages.length > 0}{@render nextMessage(record.messages[0][0], record.messages[0][1].why)}
		{:else if record.open.length > 0}<p>
				{record.open.some((item) => item.dueOn)
					? 'Every reminder has gone out; nobody is reminded any more.'
					: 'What is open has no date, so nobody is reminded.'}
			</p>{/if}
		{#each record.invited as contact (contact.id)}<p>
				{dateWords('en', contact.invitation!.nextChaseOn!)}, a reminder of the invitation to {contact.name}
				<span class="text-(--half)">unless they join</span>
			</p>{/each}
		{#each data.tried as tried (tried.contactId)}
			{#if tried.proposes && shown !== tried.contactId}<p class="text-(--half)">{tried.works}</p>{/if}
		{/each}
		{#if data.tried.length > 0}<p class="flex flex-wrap gap-x-4">
				{#each data.tried as tried (tried.contactId)}<button
						class="act-link"
						aria-expanded={shown === tried.contactId}
						onclick={() => (shown = shown === tried.contactId ? null : tried.contactId)}>What was tried with {tried.name.split(' ')[0]}</button
					>{/each}
			</p>{/if}
		{#each data.tried as tried (tried.contactId)}
			{#if shown === tried.contactId}<div class="my-2"><Tried {tried} time={record.time} /></div>{/if}
		{/each}
		<PauseReminders
			clientId={client.id}
			people={client.contacts}
			holds={data.holds}
			things={data.awaitable}
			today={data.today}
			mayPause={record.mine('judge_item')}
		/>
	</RecordLine>
{/if}
