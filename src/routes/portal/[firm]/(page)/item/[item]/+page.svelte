<script lang="ts">
	import { isOpen } from '$lib/core/requests/item-states';
	import PaperUpload from '$lib/ui/PaperUpload.svelte';
	import SignLetter from '$lib/ui/SignLetter.svelte';
	import { enhancedForm } from '$lib/ui/enhanced-form';
	import { dateWords, dayOf, sizeWords } from '$lib/words/dates';
	import { sayer } from '$lib/words/words';

	let { data } = $props();
	const say = $derived(sayer(data.locale));
	const item = $derived(data.item);
	// a client the firm does not work for just now is only read
	const closed = $derived(item.clientState !== 'active');
	const open = $derived(isOpen(item.state) && !closed);
	let saysNo = $state(false);
	let problem = $state('');
	let pending = $state(false);
	// svelte-ignore state_referenced_locally
	let answer = $state(data.item.answer ?? '');
	let keepTimer: ReturnType<typeof setTimeout> | undefined;
	const handling = { onPending: (p: boolean) => (pending = p), onProblem: (p: { message: string }) => (problem = p.message) };
	const stateWords = $derived.by(() => {
		const values = {
			firm: data.brand.name,
			date: dateWords(data.locale, dayOf(item.stateAt, data.brand.timeZone), 'long'),
			reason: item.reason ?? ''
		};
		return item.state === 'handed_in' ||
			item.state === 'accepted' ||
			item.state === 'waived' ||
			item.state === 'answered_no' ||
			item.state === 'declined'
			? say(`item.state.${item.state}`, values)
			: '';
	});

	const subtitle = $derived(
		[
			item.clientName,
			open && item.dueOn ? say(item.dueOn < data.today ? 'item.dueLate' : 'item.due', { date: dateWords(data.locale, item.dueOn, 'long') }) : '',
			item.required ? '' : say('item.optional')
		]
			.filter(Boolean)
			.join(' · ')
	);

	/** Keeps what is typed, so that it can be gone on with elsewhere. */
	function keep() {
		clearTimeout(keepTimer);
		keepTimer = setTimeout(() => {
			if (!answer.trim()) return;
			const body = new FormData();
			body.set('answer', answer);
			void fetch('?/keep', { method: 'POST', body, headers: { 'x-sveltekit-action': 'true' } }).catch(() => undefined);
		}, 900);
	}
</script>

<svelte:head><title>{item.title} · {data.brand.name}</title></svelte:head>

<p><a class="act-link" href={data.home}>← {say('portal.back')}</a></p>
<h1 class="mt-1 text-[1.55rem] leading-snug">{item.title}</h1>
<p class="text-(--half)">{subtitle}</p>

{#if closed}<p class="notice-lamp mt-3">{say('portal.closed', { client: item.clientName })}</p>
{:else if item.state === 'sent_back'}<p class="notice-lamp mt-3">
		{say('portal.sentBack.said', { name: item.lastActor ?? data.brand.name, reason: item.reason ?? '' })}
	</p>
{:else if item.why && open}<p class="mt-2">{item.why}</p>{/if}
{#if problem}<p class="notice-wrong mt-3" role="alert">{problem}</p>{/if}

{#if item.kind === 'letter' && data.document && item.letter}
	<SignLetter
		{item}
		document={data.document}
		locale={data.locale}
		brand={data.brand}
		home={data.home}
		personName={data.person.name}
		maySign={data.mayRead && !closed}
	/>
{:else}
	{#if stateWords}<p class="notice-lamp mt-4">{stateWords}</p>{/if}
	{#if item.kind === 'paper' && (open || (item.state === 'answered_no' && !closed))}
		{#key item.id}<PaperUpload
				itemId={item.id}
				papers={item.papers}
				locale={data.locale}
				home={data.home}
				onProblem={(message) => (problem = message)}
			/>{/key}
	{:else if item.kind === 'paper'}
		<ul class="mt-4" aria-label={say('item.paper.list')}>
			{#each item.papers as paper (paper.id)}<li class="flex items-center gap-3 border-b border-(--rule-strong) py-2">
					<a class="act-link min-w-0 flex-1 !block truncate !leading-[44px]" href="{data.home}/papers/{paper.id}?download" download>{paper.name}</a
					><span class="text-sm text-(--half)">{sizeWords(data.locale, paper.bytes)}</span>
				</li>{/each}
		</ul>
	{:else if item.kind === 'question' && (open || (item.state === 'answered_no' && !closed))}
		<form method="post" action="?/answer" class="mt-4 space-y-3" {@attach enhancedForm(handling)}>
			<label class="field"
				><span>{say('item.question.label')}</span><textarea name="answer" rows="5" bind:value={answer} oninput={keep} maxlength="10000" required
				></textarea></label
			>
			<button class="act w-full" disabled={pending}>{say('item.question.handIn')}</button>
		</form>
	{:else if item.kind === 'question' && item.answer}
		<p class="mt-4 text-sm text-(--half)">{say('item.question.given')}</p>
		<blockquote class="mt-1 border-l-4 border-(--rule-strong) pl-3 break-words whitespace-pre-wrap">{item.answer}</blockquote>
	{/if}

	{#if open}
		{#if saysNo}
			<form method="post" action="?/no" class="mt-6 space-y-3 border-t border-(--rule-strong) pt-4" {@attach enhancedForm(handling)}>
				<label class="field"
					><span>{say('item.no.label')}</span><textarea name="reason" rows="3" maxlength="1000" required aria-describedby="no-hint"></textarea></label
				>
				<p id="no-hint" class="text-sm text-(--half)">{say('item.no.hint', { firm: data.brand.name })}</p>
				<div class="flex gap-2">
					<button class="act" disabled={pending}>{say('item.no.send', { firm: data.brand.name.split(' ').slice(0, 2).join(' ') })}</button><button
						type="button"
						class="act-quiet"
						onclick={() => (saysNo = false)}>{say('item.no.cancel')}</button
					>
				</div>
			</form>
		{:else}<p class="mt-3"><button class="act-link" onclick={() => (saysNo = true)}>{say('item.no.open')}</button></p>{/if}
	{/if}
{/if}
