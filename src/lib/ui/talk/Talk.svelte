<script lang="ts">
	import type { Remark } from '$lib/server/items/remarks';
	import type { Note, SeeingColleague } from '$lib/server/talk/notes';
	import type { NamedTalk } from '$lib/server/talk/words';
	import { enhancedForm } from '../forms/enhanced-form';
	import { keepOnDevice } from '../forms/keep-on-device';
	import FromLibrary from './FromLibrary.svelte';
	import GiveForm from './GiveForm.svelte';
	import LaterForm from './LaterForm.svelte';
	import NoteForm from './NoteForm.svelte';
	import { lastSent } from './just-sent.svelte';
	import { sendByKey } from './send-by-key';
	import Thread from './Thread.svelte';

	/** What the firm and a person wrote to each other about nothing in particular, and the field to write. */
	let {
		talk,
		words,
		unseen,
		notes,
		colleagues,
		timeZone,
		mayWrite,
		mayNote,
		sent,
		begin
	}: {
		talk: NamedTalk;
		words: Remark[];
		/** how many of the client's words nobody has seen */ unseen: number;
		/** what only the firm reads */ notes: Note[];
		/** the others who may see the client */ colleagues: SeeingColleague[];
		timeZone: string;
		mayWrite: boolean;
		mayNote: boolean;
		/** once words were sent, or seen */ sent: () => void | Promise<void>;
		/** before they are */ begin?: () => void;
	} = $props();
	let problem = $state('');
	let pending = $state(false);
	let typed = $state('');
	/** the same for every press of one letter, and another for the next */
	let key = $state(crypto.randomUUID());
	const first = $derived(talk.contactName.split(' ')[0]);
	const at = $derived(`/desk/clients/${talk.clientId}/words/${talk.contactId}`);
	const handling = {
		onPending(begins: boolean) {
			pending = begins;
			if (begins) begin?.();
		},
		onProblem: (p: { message: string }) => void (problem = p.message),
		async onSuccess() {
			problem = '';
			await sent();
		}
	};
	const of = $derived(`words ${talk.clientId} ${talk.contactId}`);
	const writing = {
		...handling,
		async onSuccess() {
			lastSent.offer({ remarkId: key, to: first, action: `${at}?/takeBack`, words: typed, of, href: at });
			typed = problem = '';
			key = crypto.randomUUID();
			await sent();
		}
	};
</script>

{#if words.length > 0 || notes.length > 0}<Thread {words} {notes} clientId={talk.clientId} {timeZone} />
{:else}<p class="text-sm text-(--half)">Nothing has been written yet.</p>{/if}
{#if problem}<p class="notice-wrong" role="alert">{problem}</p>{/if}
{#if mayWrite}
	<form method="post" action="{at}?/write" class="space-y-2" {@attach enhancedForm(writing)} {@attach keepOnDevice(of)}>
		<input type="hidden" name="idempotencyKey" value={key} />
		<label class="field"
			><span>To {first}, {talk.email ? 'by e-mail and on their page' : 'on their page; there is no address yet'}</span><textarea
				data-talk
				name="words"
				rows="4"
				maxlength="4000"
				bind:value={typed}
				required
				{@attach sendByKey('ctrl')}></textarea></label
		>
		<div class="flex flex-wrap items-center gap-x-4 gap-y-2">
			<button class="act" disabled={pending}>Send to {first} <span class="key">Ctrl ↵</span></button>
			<FromLibrary to={{ clientId: talk.clientId, contactId: talk.contactId }} bind:words={typed} />
		</div>
	</form>
	{#if unseen > 0}<form method="post" action="{at}?/markSeen" data-acts {@attach enhancedForm(handling)}>
			<button class="act-quiet" aria-keyshortcuts="n" disabled={pending}>Needs no answer <span class="key">n</span></button>
		</form>
		<LaterForm action="{at}?/later" {words} {begin} {sent} />
		<GiveForm action="{at}?/give" {words} {colleagues} {begin} {sent} />{/if}
{/if}
{#if mayNote}<NoteForm action="{at}?/note" of="note {talk.clientId} {talk.contactId}" {colleagues} />{/if}
