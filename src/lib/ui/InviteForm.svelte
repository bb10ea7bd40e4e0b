<script lang="ts">
	import { enhancedForm } from './enhanced-form';

	let {
		clientId,
		contact,
		draft,
		words,
		done,
		begin = null
	}: {
		clientId: string;
		contact: { id: string; name: string; email: string };
		draft: { subject: string; body: string };
		words: string;
		done: () => void | Promise<void>;
		begin?: (() => void) | null;
	} = $props();
	let problem = $state('');
	let fields = $state<Record<string, string>>({});
	let pending = $state(false);
	let onceKey = $state(crypto.randomUUID());
	// svelte-ignore state_referenced_locally
	let subject = $state(draft.subject);
	// svelte-ignore state_referenced_locally
	let body = $state(draft.body);
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
			onceKey = crypto.randomUUID();
			await done();
		}
	})}
>
	{#if problem}<p class="notice-wrong" role="alert">{problem}</p>{/if}
	<input type="hidden" name="contactId" value={contact.id} />
	<input type="hidden" name="clientId" value={clientId} />
	<input type="hidden" name="onceKey" value={onceKey} />
	<p class="text-sm"><span class="text-(--half)">To</span> {contact.name} &lt;{contact.email}&gt;</p>
	<label class="field"
		><span>Subject</span><input name="subject" bind:value={subject} maxlength="160" aria-invalid={fields.subject ? 'true' : undefined} /></label
	>
	<label class="field"
		><span>Words</span><textarea name="body" rows="7" bind:value={body} maxlength="4000" aria-invalid={fields.body ? 'true' : undefined}
		></textarea></label
	>
	<p class="border-l-2 border-(--rule-strong) pl-3 text-xs text-(--half)">
		Below your words stands a button, “Choose your password”. Its link is only for {contact.name.split(' ')[0]}, works once and for 14 days. Your name
		stands at the end.
	</p>
	<button class="act" disabled={pending}>{pending ? 'Sending …' : words}</button>
</form>
