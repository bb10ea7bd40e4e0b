<script lang="ts">
	import type { ItemRow } from '$lib/server/items/read-items';
	import type { Remark } from '$lib/server/items/remarks';
	import type { Note, SeeingColleague } from '$lib/server/talk/notes';
	import { enhancedForm } from '../forms/enhanced-form';
	import { keepOnDevice } from '../forms/keep-on-device';
	import FromLibrary from '../talk/FromLibrary.svelte';
	import GiveForm from '../talk/GiveForm.svelte';
	import LaterForm from '../talk/LaterForm.svelte';
	import NoteForm from '../talk/NoteForm.svelte';
	import { lastSent } from '../talk/just-sent.svelte';
	import { sendByKey } from '../talk/send-by-key';
	import Thread from '../talk/Thread.svelte';

	/** What both sides wrote about an item. The firm's words go out by e-mail too. */
	let {
		item,
		remarks,
		notes,
		colleagues,
		timeZone,
		writing,
		mayWrite,
		mayNote
	}: {
		item: ItemRow;
		remarks: Remark[];
		/** what only the firm reads */ notes: Note[];
		/** the others who may see the client */ colleagues: SeeingColleague[];
		timeZone: string;
		/** the field was opened by a person */ writing: boolean;
		/** their role allows it */ mayWrite: boolean;
		/** they may note what only the firm reads */ mayNote: boolean;
	} = $props();
	let problem = $state('');
	let pending = $state(false);
	let words = $state('');
	const first = $derived(item.contactName.split(' ')[0]);
	const handling = {
		onPending: (p: boolean) => (pending = p),
		onProblem: (p: { message: string }) => (problem = p.message),
		onSuccess: () => void (problem = '')
	};
	/** the same for every press of one letter, and another for the next */
	let key = $state(crypto.randomUUID());
	const of = $derived(`write ${item.id}`);
	const sending = {
		...handling,
		onSuccess() {
			lastSent.offer({
				remarkId: key,
				to: first,
				action: `/desk/items/${item.id}?/takeBack`,
				words,
				of,
				href: `/desk/clients/${item.clientId}/item/${item.id}`
			});
			words = problem = '';
			key = crypto.randomUUID();
		}
	};
</script>

{#if remarks.length > 0 || notes.length > 0 || writing}
	<section aria-labelledby="talk-{item.id}">
		<h3 id="talk-{item.id}" class="text-[1rem]">Said about it</h3>
		{#if remarks.length > 0 || notes.length > 0}<div class="mt-1"><Thread words={remarks} {notes} clientId={item.clientId} {timeZone} /></div>{/if}
		{#if problem}<p class="notice-wrong mt-2" role="alert">{problem}</p>{/if}
		{#if mayWrite}
			<form method="post" action="/desk/items/{item.id}?/write" class="mt-2 space-y-2" {@attach enhancedForm(sending)} {@attach keepOnDevice(of)}>
				<input type="hidden" name="idempotencyKey" value={key} />
				<input type="hidden" name="version" value={item.version} />
				<label class="field"
					><span>To {first}, by e-mail and on their page</span><textarea
						data-talk
						name="words"
						rows="3"
						maxlength="4000"
						bind:value={words}
						required
						{@attach sendByKey('ctrl')}></textarea></label
				>
				<div class="flex flex-wrap items-center gap-x-4 gap-y-2">
					<button class="act-quiet" disabled={pending}>Send to {first} <span class="key">Ctrl ↵</span></button>
					<FromLibrary to={{ clientId: item.clientId, contactId: item.contactId }} bind:words />
				</div>
			</form>
			{#if item.unseenByFirm > 0}
				<form method="post" action="/desk/items/{item.id}?/markRemarksSeen" class="mt-1" {@attach enhancedForm(handling)}>
					<input type="hidden" name="version" value={item.version} /><button class="act-link text-sm" disabled={pending}
						>Read, no answer needed</button
					>
				</form>
				<LaterForm action="/desk/items/{item.id}?/answerLater" words={remarks} version={item.version} />
				<GiveForm action="/desk/items/{item.id}?/giveAnswer" words={remarks} {colleagues} version={item.version} />
			{/if}
		{/if}
		{#if mayNote}<div class="mt-3"><NoteForm action="/desk/items/{item.id}?/note" of="note {item.id}" {colleagues} /></div>{/if}
	</section>
{/if}
