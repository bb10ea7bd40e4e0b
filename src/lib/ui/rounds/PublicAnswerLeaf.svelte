<script lang="ts">
	import { untrack } from 'svelte';
	import { answerInWords } from '$lib/core/items/answers';
	import { partsOf } from '$lib/core/items/which-apply';
	import { deskAnswerReader } from '$lib/words/desk-answers';
	import { enhancedForm } from '../forms/enhanced-form';
	import FindClient from '../questionnaires/FindClient.svelte';
	import { leafKeys } from '../desk/leaf-keys';
	import type { LeafProps } from './leaf-props';

	let { leaf, mine, pending, problem, handling, time }: LeafProps<'public_answer'> = $props();
	const answer = $derived(leaf.answer);
	const reader = deskAnswerReader();
	const parts = $derived(partsOf(answer.questions));
	const first = $derived(answer.name.split(' ')[0] || 'Whoever answered');
	const action = $derived(`/desk/public-answers/${answer.id}`);
	/** the client it is joined to; somebody with the address of one of its people is most likely theirs */
	let chosen = $state<string>(untrack(() => leaf.matches.find(({ contactId }) => contactId !== null)?.clientId ?? ''));
	let other = $state<{ id: string; name: string } | null>(null);
	const options = $derived([
		...leaf.matches,
		...(other ? [{ clientId: other.id, clientName: other.name, why: '', contactId: null, contactName: null }] : [])
	]);
	const match = $derived(options.find(({ clientId }) => clientId === chosen));
	let making = $state(untrack(() => leaf.matches.length === 0));
	let name = $state(untrack(() => leaf.answer.business || leaf.answer.name));
	let contactName = $state(untrack(() => leaf.answer.name || leaf.answer.business));
	let kind = $state(untrack(() => (leaf.answer.business ? 'business' : 'person')));
	let responsibleId = $state(untrack(() => leaf.me ?? ''));
	const known = $derived(leaf.matches.find(({ why, contactName: theirs }) => why === 'has this address' && theirs));
</script>

<div class="space-y-5 p-5 pr-10" {@attach leafKeys}>
	<header>
		<h2 class="text-[1.2rem]">{answer.business || answer.name || 'Somebody unnamed'}</h2>
		<p class="text-sm text-(--half)">
			{answer.business && answer.name ? `${answer.name} · ` : ''}<a
				class="underline decoration-dotted"
				href="/desk/library/questionnaires/{answer.questionnaireId}">{answer.title}</a
			>
			· {time(answer.cameAt)}
		</p>
		{#if answer.email || answer.phone}<p class="mt-1 text-sm">
				{#if answer.email}<a href="mailto:{answer.email}">{answer.email}</a>
					<span class={answer.confirmed ? 'text-(--half)' : 'text-(--lamp-deep)'}>{answer.confirmed ? 'confirmed by a code' : 'not confirmed'}</span
					>{/if}{#if answer.phone}{answer.email ? ' · ' : ''}<a href="tel:{answer.phone}">{answer.phoneWords}</a>{/if}
			</p>{/if}
	</header>
	{#if problem}<p class="notice-wrong" role="alert">{problem}</p>{/if}
	<div>
		{#each parts as part, i (i)}
			{#if part.title}<h3 class="mt-3 border-b border-(--rule-strong) pb-1 text-[0.98rem]">{part.title}</h3>{/if}
			<dl class="facts">
				{#each part.questions as question (question.key)}<div>
						<dt>{question.title}</dt>
						<dd class="break-words whitespace-pre-wrap">
							{#if answer.withheld.includes(question.key)}<span class="text-(--half)">not shown to your role</span
								>{:else if question.answer.is === 'file'}{#each answer.files.filter(({ slot }) => slot === question.key) as file, n (file.id)}{n > 0
										? ', '
										: ''}<a class="act-link" href="{action}/files/{file.id}" target="_blank" rel="noopener">{file.name}</a
									>{/each}{:else}{answerInWords(question.answer, answer.answers[question.key], reader)}{/if}
						</dd>
					</div>{/each}
			</dl>
		{/each}
	</div>
	{#if mine('judge_item')}
		{#if !making || options.length > 0}
			<section aria-labelledby="join" class="border-t border-(--rule-strong) pt-4">
				<h3 id="join" class="text-[1.02rem]">{leaf.matches.length > 0 ? 'You may know them' : 'Join it to a client'}</h3>
				<form method="post" action="{action}?/join" class="mt-2 space-y-2" {@attach enhancedForm(handling)}>
					{#each options as one (one.clientId)}<label class="flex items-baseline gap-2 text-[0.95rem]"
							><input type="radio" name="clientId" value={one.clientId} bind:group={chosen} />
							<span
								>{one.clientName}{#if one.why}<span class="ml-2 text-sm text-(--half)"
										>{one.contactName ? `${one.contactName} ${one.why}` : one.why}</span
									>{/if}</span
							></label
						>{/each}
					<FindClient
						label={options.length > 0 ? 'Another client' : 'Which client?'}
						onClient={(client) => {
							if (!options.some(({ clientId }) => clientId === client.id)) other = client;
							chosen = client.id;
						}}
					/>
					{#if match && !match.contactId && answer.name && mine('invite')}<label class="flex items-center gap-2 text-sm"
							><input type="checkbox" name="addPerson" value="yes" checked /> add {answer.name} to the client’s people</label
						>{/if}
					<p class="text-xs text-(--half)">
						The answers go into the client’s record, to be looked at there. What is not known yet becomes known; what is known stays as it is.
					</p>
					<button class={leaf.matches.length > 0 ? 'act' : 'act-quiet'} disabled={pending || chosen === ''}
						>{match ? `Join it to ${match.clientName}` : 'Join it to a client'}</button
					>
				</form>
			</section>
		{/if}
		{#if mine('add_client')}
			<section class="border-t border-(--rule-strong) pt-4">
				{#if making}
					<h3 class="text-[1.02rem]">Make them a client</h3>
					<form method="post" action="{action}?/makeClient" class="mt-2 space-y-3" {@attach enhancedForm(handling)}>
						<label class="field"><span>Name of the client</span><input name="name" bind:value={name} maxlength="160" required /></label>
						<div class="grid gap-3 sm:grid-cols-2">
							<label class="field"
								><span>What kind of client</span><select name="kind" bind:value={kind}
									><option value="business">a business</option><option value="person">a person</option></select
								></label
							>
							<label class="field"
								><span>Responsible at the firm</span><select name="responsibleId" bind:value={responsibleId}
									>{#each leaf.staff as person (person.id)}<option value={person.id}>{person.name}</option>{/each}</select
								></label
							>
						</div>
						{#if known}<p class="text-sm">{known.contactName} has this address, and will be the client’s person.</p>
							<input type="hidden" name="contactName" value={known.contactName} />
						{:else}<label class="field"><span>Their person</span><input name="contactName" bind:value={contactName} maxlength="120" required /></label
							>{/if}
						<p class="text-xs text-(--half)">Nobody is written to. You can invite {first} from the client’s record.</p>
						<button class={leaf.matches.length > 0 ? 'act-quiet' : 'act'} disabled={pending}>Make the client</button>
					</form>
					{#if leaf.matches.length === 0 && !other}<p class="mt-3">
							<button type="button" class="act-link text-sm" onclick={() => (making = false)}>Join it to a client instead …</button>
						</p>{/if}
				{:else}<button type="button" class="act-link" onclick={() => (making = true)}>Make them a new client …</button>{/if}
			</section>
		{/if}
		<div class="flex flex-wrap items-center gap-3 border-t border-(--rule-strong) pt-4">
			<form method="post" action="{action}?/keep" {@attach enhancedForm(handling)}>
				<button class="act-quiet" disabled={pending}>Keep it among the answers</button>
			</form>
			<form method="post" action="{action}?/putAway" {@attach enhancedForm(handling)}>
				<button class="act-quiet" disabled={pending}>Put it away</button>
			</form>
			<p class="w-full text-xs text-(--half)">
				What is put away does not count, and is removed after 90 days. Until then both can be brought back from the answers to the questionnaire.
			</p>
		</div>
	{/if}
</div>
