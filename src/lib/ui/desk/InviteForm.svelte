<script lang="ts">
	import { deserialize } from '$app/forms';
	import type { FormProblem } from '$lib/web/form-errors';
	import { page } from '$app/state';
	import { MESSAGE_TEXT_KIND } from '$lib/core/messages/message-texts';
	import { say } from '$lib/words/words';
	import { mayText } from '$lib/core/messages/ways';
	import { enhancedForm } from '../forms/enhanced-form';
	import TextChoice from '../library/TextChoice.svelte';
	import TextWords from '../library/TextWords.svelte';
	import WordsField from '../library/WordsField.svelte';

	let {
		clientId,
		contact,
		others = [],
		draft,
		words,
		done,
		begin = null
	}: {
		clientId: string;
		contact: { id: string; name: string; email: string; phone: string | null; textProblem: string | null };
		/** further people of the client who have an address and no access yet */ others?: {
			id: string;
			name: string;
			email: string;
			phone: string | null;
			textProblem: string | null;
		}[];
		draft: { subject: string; body: string; text: string };
		words: string;
		done: () => void | Promise<void>;
		begin?: (() => void) | null;
	} = $props();
	const FIELDS = MESSAGE_TEXT_KIND.invitation.fields;
	let problem = $state('');
	let fields = $state<Record<string, string>>({});
	let pending = $state(false);
	let idempotencyKey = $state(crypto.randomUUID());
	// svelte-ignore state_referenced_locally
	let subject = $state(draft.subject);
	// svelte-ignore state_referenced_locally
	let body = $state(draft.body);
	let ticked = $state<string[]>([]);
	let textWords = $state<string | null>(null);
	let preview = $state<{ subject: string; html: string; to: string; text: string | null } | null>(null);
	/** those ticked whose number is known */
	const texted = $derived([contact, ...others.filter((other) => ticked.includes(other.id))].filter(mayText));
	let link = $state('');
	let copied = $state(false);

	/** Asks one of the form's other actions about what is written in it now. */
	async function ask<Answer>(action: 'preview' | 'makeLink'): Promise<Answer | null> {
		problem = '';
		fields = {};
		const form = new FormData();
		for (const [name, value] of Object.entries({ contactId: contact.id, subject, body, textBody: textWords ?? '' })) form.set(name, value);
		const response = await fetch(`/desk/clients/${clientId}/invite?/${action}`, {
			method: 'POST',
			body: form,
			headers: { 'x-sveltekit-action': 'true' }
		}).catch(() => null);
		const result = response && deserialize(await response.text());
		if (result?.type === 'success') return result.data as Answer;
		const refused = result?.type === 'failure' ? (result.data?.problem as FormProblem) : null;
		problem = refused?.message ?? say('en', 'wrong.lost');
		fields = refused?.fields ?? {};
		return null;
	}
	async function show() {
		preview = preview ? null : ((await ask<{ preview: NonNullable<typeof preview> }>('preview'))?.preview ?? null);
	}
	async function takeLink() {
		link = (await ask<{ link: string }>('makeLink'))?.link ?? '';
		if (link)
			await navigator.clipboard?.writeText(link).then(
				() => (copied = true),
				() => undefined
			);
	}
</script>

<form
	method="post"
	action="/desk/clients/{clientId}/invite?/send"
	class="space-y-3"
	{@attach enhancedForm({
		onPending: (p) => {
			if (p) begin?.();
			pending = p;
		},
		onProblem: (p) => {
			problem = p.message;
			fields = p.fields;
		},
		onSuccess: async () => {
			idempotencyKey = crypto.randomUUID();
			await done();
		}
	})}
>
	{#if problem}<p class="notice-wrong" role="alert">{problem}</p>{/if}
	<input type="hidden" name="contactId" value={contact.id} />
	<input type="hidden" name="clientId" value={clientId} />
	<input type="hidden" name="idempotencyKey" value={idempotencyKey} />
	<div class="text-sm">
		<p><span class="text-(--half)">To</span> {contact.name} &lt;{contact.email}&gt;</p>
		{#each others as other (other.id)}
			<label class="mt-1 flex items-start gap-2"
				><input type="checkbox" class="mt-1" name="contactId" value={other.id} bind:group={ticked} /> also {other.name} &lt;{other.email}&gt;</label
			>
		{/each}
	</div>
	<TextChoice
		kind="invitation"
		take={(text) => {
			subject = text.subject;
			body = text.body;
		}}
	/>
	<WordsField name="subject" label="Subject" bind:value={subject} fields={FIELDS} line problem={fields.subject} />
	<WordsField name="body" label="Words" bind:value={body} fields={FIELDS} problem={fields.body} />
	{#if page.data.texts && texted.length > 0}<TextWords
			draft={draft.text}
			label="also by text message to {texted.map((person) => person.name.split(' ')[0]).join(' and ')}"
			problem={fields.textBody}
			bind:words={textWords}
		/>{/if}
	<p class="border-l-2 border-(--rule-strong) pl-3 text-xs text-(--half)">
		Below your words stand a button, “Choose your password”, and a link to a page that explains how it works. The button is only for {contact.name.split(
			' '
		)[0]}, works once and for 14 days. {page.data.reminders.invitation ? `A reminder follows ${page.data.reminders.invitation}. ` : ''}Your name
		stands at the end.
	</p>
	<div class="flex flex-wrap gap-2">
		<button class="act" disabled={pending}>{pending ? 'Sending …' : ticked.length > 0 ? `Send to ${ticked.length + 1} people` : words}</button>
		<button type="button" class="act-quiet" aria-expanded={preview !== null} onclick={show}>{preview ? 'Hide the message' : 'See the message'}</button
		>
		<button type="button" class="act-quiet" onclick={takeLink}>Copy a link instead</button>
	</div>
	{#if link}
		<div class="notice-lamp">
			<label class="field"
				><span>{copied ? 'Copied. ' : ''}Only for {contact.name}; works once and for 14 days</span><input
					readonly
					value={link}
					onfocus={(event) => event.currentTarget.select()}
				/></label
			>
		</div>
	{/if}
	{#if preview}
		<p class="text-sm"><span class="text-(--half)">Subject</span> {preview.subject}<br /><span class="text-(--half)">To</span> {preview.to}</p>
		{#if preview.text}<p class="border-l-2 border-(--rule-strong) pl-3 text-sm break-words whitespace-pre-line">
				<span class="text-(--half)">Text message</span><br />{preview.text}
			</p>{/if}
		<iframe title="The message as it will look" srcdoc={preview.html} sandbox="" class="h-96 w-full border border-(--rule-strong) bg-white"></iframe>
	{/if}
</form>
