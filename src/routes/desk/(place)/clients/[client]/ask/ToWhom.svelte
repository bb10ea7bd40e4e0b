<script lang="ts">
	import { stoppedWaiting } from '$lib/core/requests/after-letters';
	import { AUTOMATIC_FIELDS, mergeFieldWords } from '$lib/core/letters/merge-fields';
	import { enhancedForm } from '$lib/ui/forms/enhanced-form';
	import TextChoice from '$lib/ui/library/TextChoice.svelte';
	import WordsField from '$lib/ui/library/WordsField.svelte';
	import type { PageData } from './$types';
	import type { Asking } from './asking.svelte';

	/** To whom a request goes, in which words, and how it is chased; sends it. */
	let { data, asking, preview }: { data: PageData; asking: Asking; preview: () => void } = $props();
	/** of what the record knows of this client, what may be told to them */
	const knownFields = $derived(Object.keys(data.fromRecord).filter((name) => !(AUTOMATIC_FIELDS as readonly string[]).includes(name)));
	const firstOf = (name: string) => name.split(' ')[0];
	const stopped = $derived(data.draft ? stoppedWaiting(data.draft.after) : null);
	const waits = $derived(asking.waitsFor.length > 0);
	const rest = $derived(asking.going.length - asking.letters);
	const what = $derived(asking.letters > 0 && asking.lettersFirst ? (asking.letters === 1 ? 'the letter ' : 'the letters ') : '');
	/** by which plan they are chased where none is chosen here: those alike together */
	const holding = $derived.by(() => {
		const plans: { words: string; names: string[] }[] = [];
		for (const { id, name } of asking.told) {
			const plan = data.holding[id];
			if (!plan) continue;
			const words = `“${plan.name}”, ${plan.why}`;
			const alike = plans.find((one) => one.words === words);
			if (alike) alike.names.push(firstOf(name));
			else plans.push({ words, names: [firstOf(name)] });
		}
		return plans;
	});
	const toThem = $derived(asking.told.length === 1 ? firstOf(asking.contact.name) : `${asking.told.length} people`);
	const waitWords = $derived(data.draft && data.draft.after.length > 0 ? 'Save' : 'Let it wait');
	const sendWords = $derived(waits ? waitWords : asking.quiet ? `Put ${what || 'it '}up` : `Send ${what}to ${toThem}`);
</script>

<h2 class="text-[1.1rem]">To whom, and when</h2>
{#if stopped}<p class="notice-lamp mt-3">{stopped}</p>{/if}
{#if asking.problem}<p class="notice-wrong mt-3" role="alert">{asking.problem}</p>{/if}
<div class="mt-3 space-y-3">
	<label class="field"
		><span>To</span><select
			bind:value={asking.contactId}
			onchange={() => {
				asking.others = asking.others.filter((id) => id !== asking.contactId);
				if (Object.values(data.messages).includes(asking.message)) asking.message = data.messages[asking.contactId];
			}}
			>{#each data.client.contacts as c (c.id)}<option value={c.id}>{c.name}, {c.email ?? 'no e-mail address yet'}</option>{/each}</select
		></label
	>
	{#if data.client.contacts.length > 1}
		<fieldset class="text-sm">
			<legend class="field-label">And to</legend>
			{#each data.client.contacts.filter((c) => c.id !== asking.contactId) as c (c.id)}<label class="flex items-center gap-2"
					><input type="checkbox" value={c.id} bind:group={asking.others} />
					{c.name}{c.email ? '' : ', no e-mail address yet'}</label
				>{/each}
			{#if asking.others.length > 0}
				<div class="mt-1.5 flex flex-wrap gap-x-4">
					<label class="flex items-center gap-2"><input type="radio" value={false} bind:group={asking.each} /> any one of them answers</label>
					<label class="flex items-center gap-2"><input type="radio" value={true} bind:group={asking.each} /> each for themselves</label>
				</div>
			{/if}
		</fieldset>
	{/if}
	{#if asking.without.length > 0 && !asking.quiet}
		<div class="notice-lamp">
			<p><b>{asking.without.map((c) => c.name).join(' and ')} {asking.without.length === 1 ? 'has' : 'have'} no access yet.</b></p>
			<label class="mt-1 flex items-start gap-2 text-sm"
				><input type="checkbox" class="mt-1" bind:checked={asking.withInvitation} /> Send the invitation in the same message</label
			>
		</div>
	{/if}
	{#if asking.byLink.length > 0 && !asking.quiet}
		<p class="text-sm text-(--half)">
			{asking.byLink.map((c) => c.name).join(' and ')}
			{asking.byLink.length === 1 ? 'has' : 'have'} no access yet and {asking.byLink.length === 1 ? 'needs' : 'need'} none for this: the message has the
			link by which they sign.{asking.lettersFirst && asking.letters > 0 ? ' The invitation goes with the rest, once all have signed.' : ''}
		</p>
	{/if}
	<label class="field"
		><span>Title, also the subject of the message</span><input
			bind:value={asking.title}
			maxlength="120"
			aria-invalid={asking.fields.title ? 'true' : undefined}
		/></label
	>
	<fieldset class="flex flex-wrap gap-x-4 text-sm">
		<legend class="sr">Whether they are told</legend>
		<label class="flex items-center gap-2"><input type="radio" value={false} bind:group={asking.quiet} /> tell them</label>
		<label class="flex items-center gap-2"><input type="radio" value={true} bind:group={asking.quiet} /> show it without a message</label>
	</fieldset>
	{#if asking.quiet}<p class="text-xs text-(--half)">It is on their page at once; nobody gets a message, and reminders follow as usual.</p>
	{:else}
		{#if asking.already.length > 0 && !waits}
			<div class="notice-lamp text-sm">
				<p>
					{asking.already.map((c) => c.name).join(' and ')}
					{asking.already.length === 1 ? 'was' : 'were'} told of something today already. This is on their page at once, and in tomorrow’s message.
				</p>
				<label class="mt-1 flex items-center gap-2"><input type="checkbox" bind:checked={asking.tellNow} /> Tell them today anyway</label>
			</div>
		{/if}
		<TextChoice kind="request" take={(text) => (asking.message = text.body)} />
		<WordsField
			label="Words of the message"
			bind:value={asking.message}
			fields={[...AUTOMATIC_FIELDS, ...knownFields]}
			rows={5}
			problem={asking.fields.message}
		/>
	{/if}
	{#if asking.letterFields.length > 0}
		<fieldset class="border-t border-(--rule-strong) pt-3">
			<legend class="serif pr-2 text-[0.98rem] font-semibold">In the letter</legend>
			<div class="space-y-2">
				{#each asking.letterFields as name (name)}
					<label class="field"
						><span
							>{mergeFieldWords(name)}{#if !asking.letterValues[name]?.trim()}<b class="ml-2 text-(--lamp-deep)">still to fill in</b>{/if}</span
						><input bind:value={asking.letterValues[name]} maxlength="400" aria-invalid={asking.fields[name] ? 'true' : undefined} /></label
					>
				{/each}
			</div>
		</fieldset>
	{/if}
	<label class="field"
		><span>Reminders of what is still open, all of it in one message a day</span><select bind:value={asking.chasePlan}
			><option value="">as the list, a service, the person, the client or the firm has it</option>{#each data.plans as plan (plan.key)}<option
					value={plan.key}>{plan.name}: {plan.words}</option
				>{/each}</select
		></label
	>
	{#if asking.chasePlan === ''}<p class="mt-1 text-xs text-(--half)">
			{#each holding as { words, names }, n (words)}{n > 0 ? ' ' : ''}{holding.length > 1 ? `${names.join(', ')}: ` : 'Now: '}{words}.{/each}
		</p>{/if}
	{#if asking.letters > 0}
		<fieldset class="text-sm">
			<legend class="field-label">{rest === 1 ? 'The other line goes' : `The other ${rest} lines go`}</legend>
			<label class="flex items-center gap-2"
				><input type="radio" value={false} bind:group={asking.lettersFirst} /> with {asking.letters === 1 ? 'the letter' : 'the letters'}</label
			>
			<label class="flex items-center gap-2"
				><input type="radio" value={true} bind:group={asking.lettersFirst} /> by {rest === 1 ? 'itself' : 'themselves'}, once all have signed</label
			>
			{#if asking.lettersFirst}<p class="text-xs text-(--half)">
					Until then {rest === 1 ? 'it waits' : 'they wait'} as a draft that you can change; {asking.told.length === 1
						? `${firstOf(asking.contact.name)} does`
						: 'they do'} not see {rest === 1 ? 'it' : 'them'}.
				</p>{/if}
		</fieldset>
	{:else if asking.awaited.length > 0}
		<fieldset class="text-sm">
			<legend class="field-label">It waits until all have signed</legend>
			{#each asking.awaited as letter (letter.id)}<label class="flex items-center gap-2"
					><input type="checkbox" value={letter.id} bind:group={asking.after} /> {letter.title}</label
				>{/each}
			<p class="text-xs text-(--half)">
				{waits ? 'Until then they do not see it. Then it goes by itself, with the next message of the day.' : 'With none chosen, it goes now.'}
			</p>
		</fieldset>
	{/if}
	<form
		method="post"
		action={waits ? '?/wait' : '?/send'}
		class="sticky -bottom-5 -mx-5 flex flex-wrap gap-2 border-t border-(--rule-strong) bg-(--leaf) px-5 py-3"
		{@attach enhancedForm(asking.form())}
	>
		<input type="hidden" name="request" value={asking.payload} />
		<input type="hidden" name="draftId" value={asking.draftId} />
		{#if waits}
			<input type="hidden" name="version" value={asking.version ?? ''} />
			<input type="hidden" name="list" value={JSON.stringify(asking.list)} />
			{#each asking.waitsFor as { id } (id)}<input type="hidden" name="afterLetter" value={id} />{/each}
		{/if}
		{#if asking.letters > 0 && asking.lettersFirst}<input type="hidden" name="lettersFirst" value="yes" />{/if}
		{#if waits || asking.lettersFirst}<input type="hidden" name="content" value={asking.content} />{/if}
		<button class="act" disabled={asking.pending || asking.going.length === 0}
			>{asking.pending ? (waits ? 'Saving …' : 'Sending …') : sendWords}</button
		>
		<button type="button" class="act-quiet" onclick={preview} disabled={asking.going.length === 0}>See it as {firstOf(asking.contact.name)}</button>
	</form>
	{#if asking.unfilled.length > 0}<p class="text-sm text-(--lamp-deep)">
			The letter still lacks: {asking.unfilled.map(mergeFieldWords).join(', ')}.
		</p>{/if}
	<p class="text-xs text-(--half)" aria-live="polite">
		{asking.keptWords}
		{#if asking.version !== null}<button class="act-link" onclick={() => asking.dropDraft()}>Delete the draft</button>{/if}
	</p>
</div>
