<script lang="ts">
	import ClientNotes from '$lib/ui/record/ClientNotes.svelte';
	import FindWritten from '$lib/ui/talk/FindWritten.svelte';
	import RecordLine from '$lib/ui/record/RecordLine.svelte';
	import { count, short, type ClientRecord } from '../record.svelte';

	/** What was said last, and our own notes. */
	let { record }: { record: ClientRecord } = $props();
	const { data, client } = $derived(record);
</script>

<RecordLine
	name="talk"
	heading="talk"
	act={data.notes.length === 0 && record.mine('keep_record') ? 'write a note' : 'show'}
	open={record.opened.has('talk')}
	toggle={record.toggle}
>
	{@const last = data.remarks[0]}
	{#each data.talks as talk (talk.contactId)}<p>
			<a class="row-link" href="/desk/clients/{client.id}/words/{talk.contactId}" data-sveltekit-noscroll><b>“{short(talk.words)}”</b></a>
			<span class="text-(--half)">{talk.by}, {record.day(talk.writtenAt)}{talk.by === talk.contactName ? '' : `, to ${talk.contactName}`}</span>
		</p>{/each}
	<p>
		{#if last}<a class="row-link" href="/desk/clients/{client.id}/item/{last.itemId}" data-sveltekit-noscroll><b>“{short(last.words)}”</b></a>
			<span class="text-(--half)">{last.by}, {record.day(last.writtenAt)}</span>{#if data.notes.length > 0}&nbsp;·
			{/if}{/if}
		{#if data.notes.length > 0}{count(data.notes.length, 'note', 'notes')} of ours{data.notes.length > 1 ? ', the last' : ''}
			<span class="text-(--half)">“{short(data.notes[0].words)}”</span>
		{:else if !last && data.talks.length === 0}<span class="text-(--half)">Nothing has been written yet.</span>{/if}
	</p>
	{#snippet more()}
		{#if data.remarks.length + data.talks.length + data.notes.length > 0}{#key client.id}<FindWritten
					clientId={client.id}
					timeZone={data.firm.timeZone}
				/>{/key}{/if}
		{#if data.remarks.length > 0}<ul>
				{#each data.remarks as remark (remark.itemId)}<li>
						“{short(remark.words)}” <span class="text-(--half)">{remark.by}, {record.day(remark.writtenAt)}, about</span>
						<a class="row-link" href="/desk/clients/{client.id}/item/{remark.itemId}" data-sveltekit-noscroll>{remark.title}</a>
					</li>{/each}
			</ul>{/if}
		{#key client.id}<ClientNotes
				clientId={client.id}
				notes={data.notes}
				colleagues={data.colleagues}
				timeZone={data.firm.timeZone}
				mayWrite={record.mine('keep_record')}
			/>{/key}
	{/snippet}
</RecordLine>
