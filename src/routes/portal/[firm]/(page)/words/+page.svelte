<script lang="ts">
	import { untrack } from 'svelte';
	import { enhancedForm } from '$lib/ui/forms/enhanced-form';
	import { keepOnDevice } from '$lib/ui/forms/keep-on-device';
	import { timeWords } from '$lib/words/dates';
	import { sayer } from '$lib/words/words';

	let { data, form } = $props();
	const say = $derived(sayer(data.locale));
	const firm = $derived(data.brand.name);
	const several = $derived(data.talks.length > 1);
	const open = $derived(data.talks.filter((talk) => talk.open));
	let client = $state(untrack(() => data.talks.find((talk) => talk.open)?.clientId ?? ''));
	let words = $state('');
	let problem = $state(untrack(() => (form && 'problem' in form ? (form.problem?.message ?? '') : '')));
	let awayProblem = $state('');
	let pending = $state(false);
	let sent = $state(untrack(() => Boolean(form && 'sent' in form)));
	const onPending = (begins: boolean) => void (pending = begins);
	const heading = (clientName: string) => (several ? clientName : say('words.title', { firm }));
</script>

<svelte:head><title>{say('words.title', { firm })} · {firm}</title></svelte:head>

<p><a class="act-link" href={data.home}>← {say('portal.back')}</a></p>
<h1 class="mt-1 text-[1.65rem] leading-tight">{say('words.title', { firm })}</h1>
<p class="mt-1 text-(--half)">{say('words.lead', { firm })}</p>
{#each data.talks.filter((talk) => talk.words.length > 0) as talk (talk.clientId)}
	<section class="mt-5" aria-label={heading(talk.clientName)}>
		{#if several}<h2 class="border-b border-(--rule-strong) pb-1 text-[1.1rem]">{talk.clientName}</h2>{/if}
		<ol class="mt-2 space-y-3">
			{#each talk.words as one (one.id)}
				<li class={one.side === 'client' ? 'ml-8' : 'mr-8'}>
					<p class="text-[0.85rem] text-(--half)">
						{one.side === 'client' ? say('words.you') : one.by}, {timeWords(data.locale, one.writtenAt, data.brand.timeZone)}
					</p>
					<p class="rounded border border-(--rule-strong) bg-[#fffefb] px-3 py-2 break-words whitespace-pre-line" class:firm={one.side === 'firm'}>
						{one.words}
					</p>
				</li>
			{/each}
		</ol>
	</section>
{:else}<p class="mt-5 text-(--half)">{say('words.none')}</p>{/each}
{#if sent}<p class="notice-lamp mt-4" role="status">{say('words.sent', { firm })}</p>{/if}
{#if open.length > 0 && !data.person.lookedAtBy}
	<form
		method="post"
		action="?/write"
		class="mt-4 space-y-3"
		{@attach enhancedForm({
			onPending,
			onProblem: (p) => (problem = p.message),
			onSuccess: () => {
				words = problem = '';
				sent = true;
			}
		})}
		{@attach keepOnDevice('words')}
	>
		{#if problem}<p class="notice-wrong" role="alert">{problem}</p>{/if}
		{#if open.length > 1}<label class="field"
				><span>{say('words.client')}</span><select name="clientId" bind:value={client}
					>{#each open as one (one.clientId)}<option value={one.clientId}>{one.clientName}</option>{/each}</select
				></label
			>
		{:else}<input type="hidden" name="clientId" value={client} />{/if}
		<label class="field"
			><span>{say('words.label', { firm })}</span><textarea
				name="words"
				rows="4"
				maxlength="4000"
				bind:value={words}
				oninput={() => (sent = false)}
				required></textarea></label
		>
		<button class="act" disabled={pending}>{say('words.send')}</button>
	</form>
{/if}
{#each data.talks.filter((talk) => !talk.open) as talk (talk.clientId)}<p class="mt-3 text-(--half)">
		{say('words.closed', { firm, client: talk.clientName })}
	</p>{/each}
{#if !data.person.lookedAtBy}
	<section class="mt-8 border-t border-(--rule-strong) pt-4" aria-labelledby="away">
		<h2 id="away" class="text-[1.1rem]">{say('away.title')}</h2>
		{#if data.away}
			<p class="mt-1" role="status">{say('away.on', { date: data.away })}</p>
			<form method="post" action="?/back" class="mt-2" {@attach enhancedForm({ onPending, onProblem: (p) => (awayProblem = p.message) })}>
				<button class="act-quiet" disabled={pending}>{say('away.end')}</button>
			</form>
		{:else}
			<p class="mt-1 text-(--half)">{say('away.text')}</p>
			<form
				method="post"
				action="?/away"
				class="mt-3 flex flex-wrap items-end gap-3"
				{@attach enhancedForm({ onPending, onProblem: (p) => (awayProblem = p.fields.until ?? p.message), onSuccess: () => void (awayProblem = '') })}
			>
				{#if awayProblem}<p class="notice-wrong w-full" role="alert">{awayProblem}</p>{/if}
				<label class="field"
					><span>{say('away.label')}</span><input
						type="date"
						name="until"
						min={data.tomorrow}
						max={data.last}
						required
						aria-invalid={awayProblem ? true : undefined}
					/></label
				>
				<button class="act-quiet" disabled={pending}>{say('away.save')}</button>
			</form>
		{/if}
	</section>
{/if}

<style>
	.firm {
		border-left: 4px solid var(--act);
	}
</style>
