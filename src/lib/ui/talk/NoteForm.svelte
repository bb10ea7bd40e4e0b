<script lang="ts">
	import { tick } from 'svelte';
	import { namedIn, namingAt, type Colleague } from '$lib/core/talk/named';
	import { enhancedForm } from '../forms/enhanced-form';
	import { keepOnDevice } from '../forms/keep-on-device';
	import { sendByKey } from './send-by-key';

	/** Where somebody of the firm writes what only the firm reads: on other paper, and kept by another key than what goes to a client. */
	let {
		action,
		of,
		colleagues,
		begin,
		kept
	}: {
		action: string;
		/** what it is about, for what is kept on this device */ of: string;
		/** whom it can name */ colleagues: Colleague[];
		/** before it is kept */ begin?: () => void;
		/** once it is */ kept?: () => void | Promise<void>;
	} = $props();
	const id = $props.id();
	let words = $state('');
	let caret = $state(0);
	let problem = $state('');
	let pending = $state(false);
	/** the same for every press of one note, and another for the next */
	let key = $state(crypto.randomUUID());
	let field = $state<HTMLTextAreaElement>();
	const naming = $derived(namingAt(words, caret, colleagues));
	const named = $derived(namedIn(words, colleagues));
	const listed = new Intl.ListFormat('en', { type: 'conjunction' });
	/** what is told, once nobody is in the middle of a name */
	const tells = $derived(
		[
			named.told.length > 0 ? `Tells ${listed.format(named.told.map(({ name }) => name))}.` : '',
			...(naming ? [] : named.unclear.map((name) => `Several of you are called ${name}: write the whole name.`)),
			...(naming ? [] : named.unknown.map((name) => `Nobody called ${name} can read this, so nobody of that name is told.`))
		]
			.filter(Boolean)
			.join(' ')
	);
	const where = () => void (caret = field?.selectionEnd ?? 0);

	async function take(who: Colleague) {
		if (!naming || !field) return;
		const before = `${words.slice(0, naming.from)}@${who.name} `;
		words = before + words.slice(caret).replace(/^ /, '');
		await tick();
		field.focus();
		field.setSelectionRange(before.length, before.length);
		caret = before.length;
		// what is kept on this device goes by what is typed
		field.dispatchEvent(new Event('input', { bubbles: true }));
	}
</script>

<form
	method="post"
	{action}
	class="note"
	{@attach enhancedForm({
		onPending(begins) {
			pending = begins;
			if (begins) begin?.();
		},
		onProblem: (p) => void (problem = p.message),
		async onSuccess() {
			words = problem = '';
			key = crypto.randomUUID();
			await kept?.();
		}
	})}
	{@attach keepOnDevice(of)}
>
	<input type="hidden" name="idempotencyKey" value={key} />
	<h3 id="{id}-head" class="text-[1rem]">A note only we read</h3>
	<p id="{id}-says" class="text-[0.8rem] text-(--half)">Nobody outside the firm ever sees this paper. @ and a name tells a colleague.</p>
	{#if problem}<p class="notice-wrong my-2" role="alert">{problem}</p>{/if}
	<div class="field">
		<textarea
			bind:this={field}
			bind:value={words}
			name="words"
			rows="2"
			maxlength="4000"
			aria-labelledby="{id}-head"
			aria-describedby="{id}-says"
			oninput={where}
			onkeyup={where}
			onclick={where}
			required
			{@attach sendByKey('alt')}></textarea>
	</div>
	{#if naming}<p class="mt-1 flex flex-wrap items-center gap-x-2 gap-y-1 text-[0.8rem] text-(--half)">
			<span>Name</span>
			{#each naming.choices.slice(0, 6) as who (who.id)}<button type="button" class="act-link min-h-6" onclick={() => void take(who)}
					>{who.name}</button
				>{/each}
		</p>{/if}
	<p class="min-h-5 text-[0.8rem] text-(--half)" role="status">{tells}</p>
	<button class="act-quiet" disabled={pending}>Keep the note <span class="key">Alt ↵</span></button>
</form>

<style>
	.note {
		padding: 10px 12px 12px;
		border: 1px dashed var(--margin-line);
		background: var(--note);
	}
</style>
