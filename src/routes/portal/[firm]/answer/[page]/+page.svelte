<script lang="ts">
	import { page } from '$app/state';
	import { ANSWER, type TypedValue } from '$lib/core/requests/typed';
	import FieldProblem from '$lib/ui/forms/FieldProblem.svelte';
	import { keepInTab } from '$lib/ui/portal/keep-in-tab';
	import AnswerForm from '$lib/ui/questionnaires/AnswerForm.svelte';
	import type { FormProblem } from '$lib/web/form-errors';
	import { sayer } from '$lib/words/words';

	let { data, form } = $props();
	const say = $derived(sayer(data.locale));
	/** where no scripts run, a refused form comes back with the page */
	const refused = $derived((form as { problem?: FormProblem } | null)?.problem ?? null);
	let told = $state<{ message: string; fields: Record<string, string> } | null>(null);
	let pending = $state(false);
	const problem = $derived(told?.message ?? refused?.message ?? '');
	const fields = $derived(told?.fields ?? refused?.fields ?? {});
	const item = $derived({
		id: page.params.page ?? '',
		title: data.title,
		spec: { questions: data.questions, files: false, signed: false, ends: [] },
		answerData: null,
		review: {},
		papers: []
	});
	const typed = (name: string): TypedValue | undefined => refused?.several?.[name.replace(ANSWER, '')] ?? refused?.values[name.replace(ANSWER, '')];
	// who only puts one thing right is not told that they are too fast
	const opening = $derived((!fields.opening && refused?.values.opening) || data.opening);
	const asked = $derived(data.who === 'asked');
	const ABOUT = $derived([
		{ field: 'name', type: 'text', complete: 'name', most: 120, needed: asked },
		{ field: 'email', type: 'email', complete: 'email', most: 254, needed: asked },
		{ field: 'business', type: 'text', complete: 'organization', most: 160, needed: false },
		{ field: 'phone', type: 'tel', complete: 'tel', most: 40, needed: false }
	] as const);
	/** The first field that is wrong is gone to: on a phone it may stand far below what is said of it. */
	const toFirstWrong = () => setTimeout(() => document.querySelector<HTMLElement>('form [aria-invalid=true]')?.focus());
	const handling = {
		onPending: (begins: boolean) => (pending = begins),
		onProblem: (what: FormProblem) => {
			told = what;
			toFirstWrong();
		}
	};
</script>

<svelte:head><title>{data.title} · {data.brand.name}</title><meta name="robots" content="noindex" /></svelte:head>

<h1 class="text-[1.55rem] leading-snug">{data.title}</h1>
<p class="text-(--half)">
	{say('public.minutes', { count: data.questions.length, minutes: data.minutes })}
	{say('public.read', { firm: data.brand.name })}
	{#if data.withFiles}{say('public.files.lead')}{/if}
</p>
{#if problem}<p class="notice-wrong mt-3" role="alert">{problem}</p>{/if}
<AnswerForm
	{item}
	open
	locale={data.locale}
	brand={data.brand}
	home={data.home}
	filesAt="{data.home}/answer/{page.params.page}/pictures/{data.version}"
	now={data.now}
	{handling}
	{pending}
	keeping={() => keepInTab(page.url.pathname)}
	{typed}
	{fields}
	known={{}}
	onProblem={(what) => (told = what)}
	action={data.framed ? '?shown=frame&/send' : '?/send'}
	kept="public.tab"
	send="public.send"
>
	{#snippet last(shown)}
		<section hidden={!shown} class="mt-7 space-y-4" aria-labelledby="about-you">
			<h2 id="about-you" class="text-[1.2rem]">{say('public.who.title')}</h2>
			{#each ABOUT as one (one.field)}
				{@const wrong = fields[`visitor.${one.field}`]}
				<div>
					<label class="field"
						><span>{say(`public.${one.field}`)}{one.needed || one.field === 'business' ? '' : ` (${say('item.questionnaire.optional')})`}</span><input
							type={one.type}
							name="visitor.{one.field}"
							autocomplete={one.complete}
							maxlength={one.most}
							value={refused?.values[`visitor.${one.field}`] ?? ''}
							required={one.needed}
							aria-invalid={wrong ? 'true' : undefined}
							aria-describedby={wrong ? `wrong-${one.field}` : undefined}
						/></label
					>
					<FieldProblem id="wrong-{one.field}" message={wrong} />
				</div>
			{/each}
		</section>
		<!-- nobody sees it but programs that fill in everything, and whoever is told to empty it -->
		<label class="field mt-4" class:unseen={!fields.contact_address} aria-hidden={fields.contact_address ? undefined : 'true'}
			><span>{say('public.unseen')}</span><input
				name="contact_address"
				tabindex={fields.contact_address ? 0 : -1}
				autocomplete="off"
				value={refused?.values.contact_address ?? ''}
				data-not-kept
			/></label
		>
		<input type="hidden" name="version" value={data.version} /><input type="hidden" name="opening" value={opening} />
	{/snippet}
</AnswerForm>

<style>
	.unseen {
		position: absolute;
		left: -4000px;
	}
	[hidden] {
		display: none;
	}
</style>
