<script lang="ts">
	import { page } from '$app/state';
	import { acceptOf } from '$lib/core/items/slots';
	import FileAnswer from '$lib/ui/questionnaires/FileAnswer.svelte';
	import { enhancedForm } from '$lib/ui/forms/enhanced-form';
	import FieldProblem from '$lib/ui/forms/FieldProblem.svelte';
	import type { FormProblem } from '$lib/web/form-errors';
	import { sayer } from '$lib/words/words';

	let { data, form } = $props();
	const say = $derived(sayer(data.locale));
	const refused = $derived((form as { problem?: FormProblem } | null)?.problem ?? null);
	let told = $state<{ message: string; fields: Record<string, string> } | null>(null);
	let pending = $state(false);
	const problem = $derived(told ?? refused);
	const at = $derived(`${data.home}/answer/${page.params.page}/sent/${page.params.receipt}`);
	const wantedNames = $derived(data.wanted.map(({ words }) => words).join(', '));
	const handling = {
		onPending: (begins: boolean) => (pending = begins),
		onProblem: (what: FormProblem) => void (told = what),
		onSuccess: () => {
			told = null;
		}
	};
</script>

<svelte:head><title>{say('public.sent.title')} · {data.brand.name}</title><meta name="robots" content="noindex" /></svelte:head>

<h1 class="text-[1.55rem] leading-snug">{say('public.sent.title')}</h1>
<p class="mt-1 whitespace-pre-line">{data.thanks || say('public.sent.has', { firm: data.brand.name })}</p>
{#if data.wanted.length > 0}
	<section class="mt-8 space-y-4" aria-labelledby="files">
		<h2 id="files" class="text-[1.2rem]">{say('public.files.title')}</h2>
		{#if data.confirmed}
			<p>{say('public.files.days')}</p>
			{#if problem}<p class="notice-wrong" role="alert">{problem.message}</p>{/if}
			{#each data.wanted as one (one.key)}
				<div>
					<FileAnswer
						name={one.key}
						label={one.words}
						accepts={one.accepts}
						papers={data.files.filter(({ slot }) => slot === one.key)}
						{at}
						title={data.title}
						home={data.home}
						locale={data.locale}
						open
						removeForm="remove-file"
						byWhoIsKnown={false}
						mostBytes={data.mostBytes}
					/>
					<form method="post" enctype="multipart/form-data" action="{at}/papers{data.framed ? '?shown=frame' : ''}" class="without-scripts mt-2">
						<input type="hidden" name="slot" value={one.key} />
						<input type="file" name="file" accept={acceptOf(one.accepts)} aria-label={one.words} required />
						<button class="act-quiet mt-2">{say('public.files.send')}</button>
					</form>
					{#if one.help}<p class="mt-1 text-[0.88rem] text-(--half)">{one.help}</p>{/if}
				</div>
			{/each}
			<form
				id="remove-file"
				method="post"
				action={data.framed ? '?shown=frame&/removePaper' : '?/removePaper'}
				hidden
				{@attach enhancedForm(handling)}
			></form>
		{:else}
			<p>
				{data.email
					? say('public.files.first', { firm: data.brand.name, count: data.wanted.length, names: wantedNames, email: data.email })
					: say('public.files.noEmail', { firm: data.brand.name, count: data.wanted.length, names: wantedNames })}
			</p>
		{/if}
	</section>
{/if}
{#if data.email}
	<section class="mt-8 space-y-3" aria-labelledby="copy">
		<h2 id="copy" class="text-[1.2rem]">{say('public.copy.title')}</h2>
		{#if data.confirmed}<p role="status">{say('public.copy.done', { email: data.email })}</p>
		{:else}
			{#if problem}<p class="notice-wrong" role="alert">{problem.message}</p>{/if}
			{#if data.codeAsked}
				<p role="status">{say('public.copy.asked', { email: data.email })}</p>
				<form method="post" action={data.framed ? '?shown=frame&/confirm' : '?/confirm'} class="space-y-3" {@attach enhancedForm(handling)}>
					<label class="field"
						><span>{say('public.copy.code')}</span><input
							name="code"
							autocomplete="one-time-code"
							inputmode="numeric"
							maxlength="20"
							required
							aria-invalid={problem?.fields.code ? 'true' : undefined}
							aria-describedby={problem?.fields.code ? 'wrong-code' : undefined}
						/></label
					>
					<FieldProblem id="wrong-code" message={problem?.message === problem?.fields.code ? undefined : problem?.fields.code} />
					<button class="act w-full" disabled={pending}>{say(data.wanted.length > 0 ? 'public.files.confirm' : 'public.copy.act')}</button>
				</form>
			{:else}<p>{say('public.copy.lead', { email: data.email })}</p>{/if}
			<form method="post" action={data.framed ? '?shown=frame&/askForCode' : '?/askForCode'} {@attach enhancedForm(handling)}>
				<button class={data.codeAsked ? 'act-link' : 'act w-full'} disabled={pending}
					>{say(data.codeAsked ? 'public.copy.again' : 'public.copy.ask')}</button
				>
			</form>
		{/if}
	</section>
{/if}

<style>
	.without-scripts {
		display: none;
	}
	@media (scripting: none) {
		.without-scripts {
			display: block;
		}
	}
</style>
