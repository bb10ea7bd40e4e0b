<script lang="ts">
	import { page } from '$app/state';
	import { ANSWER } from '$lib/core/requests/typed';
	import { asksCode } from '$lib/core/signing/ways';
	import { enhancedForm } from '$lib/ui/forms/enhanced-form';
	import type { FormProblem } from '$lib/web/form-errors';
	import { sayer } from '$lib/words/words';

	let { data, form } = $props();
	const say = $derived(sayer(data.locale));
	const door = $derived(data.door);
	const letter = $derived(data.letter);
	const at = $derived(`${data.home}/sign/${page.params.link}`);
	const values = $derived({
		title: door.title,
		name: door.name,
		firm: data.brand.name,
		days: data.days,
		minutes: data.minutes,
		to: door.codeTo ?? '',
		service: door.check?.service ?? '',
		withPhone: door.check?.withPhone ? 'yes' : 'no',
		left: door.check?.left ?? 0
	});
	/** Where no scripts run, a refused form comes back with the page: which act it was, and what was typed there. */
	const refusal = $derived.by(() => {
		const what = (form as { problem?: FormProblem } | null)?.problem;
		const act = /^\?\/(\w+)/.exec(page.url.search)?.[1] ?? '';
		const prefix = act === 'sign' || act === 'prove' ? ANSWER : act === 'writeRemark' ? 'talk.' : `${act}.`;
		return what ? { ...what, act: act === 'writeRemark' ? 'talk' : act, prefix } : null;
	});
	/** the letter was open here, and was closed by itself */
	let wasIn = $state(false);
	$effect(() => {
		if (letter) wasIn = true;
	});
	let left = $state(false);
	let told = $state<FormProblem | null>(null);
	let pending = $state(false);
	const problem = $derived(told ?? (refusal && ['open', 'enter', 'check', 'prove'].includes(refusal.act) ? refusal : null));
	const handling = {
		onPending: (begins: boolean) => (pending = begins),
		onProblem: (what: FormProblem) => void (told = what),
		onSuccess: () => {
			told = null;
			left = false;
		}
	};
</script>

<svelte:head><title>{door.title} · {data.brand.name}</title><meta name="robots" content="noindex" /></svelte:head>

{#if letter && data.LetterByLink}
	<data.LetterByLink
		{letter}
		{at}
		now={data.now}
		locale={data.locale}
		brand={data.brand}
		refused={refusal}
		closed={() => {
			wasIn = false;
			left = true;
		}}
	/>
{:else}
	<h1 class="text-[1.55rem] leading-snug">{say('letterDoor.title')}</h1>
	{#if door.over}<p class="notice-lamp mt-3">{say(`letterDoor.over.${door.over}`, values)}</p>
	{:else}
		{#if wasIn && !left}<p class="notice-lamp mt-3" role="status">{say('wrong.letterLink.out')}</p>{/if}
		{@const check = door.check}
		<p class="mt-1 text-[1.05rem]">{say(door.signed ? 'letterDoor.leadSigned' : 'letterDoor.lead', values)}</p>
		{#if check?.stopped}<p class="notice-lamp mt-4" tabindex="-1" {@attach (notice) => notice.focus()}>{say('letterDoor.check.stopped', values)}</p>
			{#if data.phone}<p class="mt-3"><a class="act-link" href="tel:{data.phone.number}">{data.phone.words}</a></p>{/if}
		{:else if check && !check.service}<p class="notice-lamp mt-4">{say('letterDoor.check.none', values)}</p>
		{:else if check?.next}
			{#if problem}<p class="notice-wrong mt-4" role="alert">{problem.message}</p>{/if}
			{#if check.questions}
				<form method="post" action="?/prove" class="mt-5 space-y-5" {@attach enhancedForm(handling)}>
					<div>
						<h2 class="text-lg" tabindex="-1" {@attach (heading) => heading.focus()}>{say('letterDoor.check.asks', values)}</h2>
						<p class="text-sm text-(--half)">{say('letterDoor.check.time', { minutes: data.checkMinutes })}</p>
					</div>
					{#each check.questions as question (question.key)}
						{@const name = `${ANSWER}${question.key}`}
						<fieldset>
							<legend class="font-medium">{question.words}</legend>
							<div class="mt-1">
								{#each question.choices as choice (choice.key)}<label class="flex min-h-11 items-center gap-3"
										><input type="radio" {name} value={choice.key} checked={problem?.values[name] === choice.key} required />
										{choice.words}</label
									>{/each}
							</div>
						</fieldset>
					{/each}
					<button class="act w-full" disabled={pending}>{say('letterDoor.check.send')}</button>
				</form>
			{:else}
				<h2 class="mt-5 text-lg" tabindex="-1" {@attach (heading) => heading.focus()}>{say('letterDoor.check.title')}</h2>
				<p class="mt-1">{say('letterDoor.check.told', values)}</p>
				<p class="mt-2 text-(--half)">
					{say('letterDoor.check.time', { minutes: data.checkMinutes })}
					{say('letterDoor.check.left', values)}
				</p>
				<form method="post" action="?/check" class="mt-4" {@attach enhancedForm(handling)}>
					<button class="act w-full" disabled={pending}>{say('letterDoor.check.begin')}</button>
				</form>
			{/if}
		{:else}
			{#if asksCode(door.way) && !door.codeWaits}<p class="mt-3 text-(--half)">
					{say(door.way === 'link_text' ? 'letterDoor.codeText' : 'letterDoor.codeMail', values)}
					{#if check}{say('letterDoor.check.coming', values)}{/if}
				</p>{/if}
			{#if problem}<p class="notice-wrong mt-4" role="alert">{problem.message}</p>{/if}
			{#if door.codeWaits}
				<p class="mt-3" role="status">{say('letterDoor.sent', values)}</p>
				<form method="post" action="?/enter" class="mt-4 space-y-3" {@attach enhancedForm(handling)}>
					<label class="field"
						><span>{say('letterDoor.code')}</span><input
							{@attach (field) => field.focus()}
							name="code"
							autocomplete="one-time-code"
							inputmode="numeric"
							maxlength="20"
							required
							aria-invalid={problem?.fields.code ? 'true' : undefined}
						/></label
					>
					<button class="act w-full" disabled={pending}>{say(check ? 'letterDoor.check.goOn' : 'letterDoor.open')}</button>
				</form>
			{/if}
			<form method="post" action="?/open" class="mt-4" {@attach enhancedForm(handling)}>
				{#if door.codeWaits}<button class="act-link" disabled={pending}>{say('letterDoor.again')}</button>
				{:else}<button class="act w-full" disabled={pending}>{say(asksCode(door.way) ? 'letterDoor.send' : 'letterDoor.open')}</button>{/if}
			</form>
		{/if}
		<p class="mt-6 text-sm text-(--half)">{say('letterDoor.notYou', values)}</p>
	{/if}
{/if}
