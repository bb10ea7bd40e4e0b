<script lang="ts">
	import { tick, untrack } from 'svelte';
	import type { FirmFacts } from '$lib/core/facts/fact-definition';
	import { factInWords } from '$lib/core/facts/fact-words';
	import type { Answers, Question } from '$lib/core/items/questions';
	import { knownAnswers, leftOut, minutesOf, partsOf, whichApply } from '$lib/core/items/which-apply';
	import { testWords, type AnswerCondition, type ClientKnown } from '$lib/core/requests/conditions';
	import { answerInWords } from '$lib/core/items/answers';
	import { answerReader } from '$lib/words/answers';
	import { factReader } from '$lib/words/facts';
	import { say } from '$lib/words/words';
	import { answersIn } from './answers-in';
	import AnswerField from '../portal/AnswerField.svelte';
	import ItemWords from '../portal/ItemWords.svelte';

	/** A questionnaire as a client would answer it, beside its writing. Nothing that is answered here leaves the page. */
	let {
		questions,
		facts,
		known,
		today,
		firm,
		color
	}: {
		questions: readonly Question[];
		facts: FirmFacts;
		known: ClientKnown;
		today: string;
		firm: string;
		/** its brand's, as clients see it */ color: string;
	} = $props();
	const reader = factReader('en', '');
	let form = $state<HTMLFormElement>();
	let at = $state(0);
	const asked = $derived({ known, facts });
	/** a line without words is not a question yet, and one among the choices, or one that is there twice, no choice */
	const written = $derived(
		questions
			.filter(({ title }) => title.trim() !== '')
			.map((question): Question =>
				'choices' in question.answer
					? {
							...question,
							answer: { ...question.answer, choices: [...new Set(question.answer.choices.map((choice) => choice.trim()).filter(Boolean))] }
						}
					: question
			)
	);
	const knows = $derived(knownAnswers(questions, asked));
	let given = $state<Answers>(untrack(() => ({ ...knows })));
	const applies = $derived(whichApply(written, given, asked, today));
	const parts = $derived(partsOf(written));
	const here = $derived(Math.min(at, Math.max(0, parts.length - 1)));
	const shown = $derived(written.filter(({ key }) => applies.get(key) === 'yes'));
	const open = $derived(shown.filter(({ key, required }) => required && given[key] === undefined));
	const openHere = $derived(parts[here]?.questions.filter((q) => open.includes(q)) ?? []);
	const out = $derived(leftOut(written, given, asked, today, { fact: (of, value, is) => factInWords(of, value, reader, is), answer: answerSaid }));
	const numberOf = (key: string) => questions.findIndex((question) => question.key === key) + 1;
	/** What is so with an earlier answer: "4 is no", "4 is not answered". */
	function answerSaid({ question }: AnswerCondition): string {
		const of = questions.find(({ key }) => key === question);
		const answer = given[question];
		if (!of) return 'a question that is gone';
		return answer === undefined
			? `${numberOf(question)} ${testWords('unknown').replace('known', 'answered')}`
			: `${numberOf(question)} is ${answerInWords(of.answer, answer, answerReader('en'))}`;
	}
	function read() {
		if (form) given = answersIn(form, written);
	}
	async function go(by: number) {
		at = here + by;
		await tick();
		form?.querySelector<HTMLElement>('input, textarea, select')?.focus({ preventScroll: true });
	}
</script>

<div class="phone" style="--brand: {color}">
	<p class="head serif">{firm}</p>
	<form bind:this={form} class="body" oninput={read} onchange={read} onsubmit={(event) => event.preventDefault()} autocomplete="off">
		<p class="mb-3 text-[0.8rem] text-(--half)">
			{parts[here]?.title ? `${parts[here].title} · ` : ''}{openHere.length === 0
				? 'nothing left in this part'
				: `${openHere.length} left in this part`}, {open.length} in all{open.length > 0
				? `, about ${minutesOf(open) === 1 ? 'a minute' : `${minutesOf(open)} minutes`}`
				: ''}
		</p>
		{#each parts as part, i (i)}
			<div hidden={i !== here} class="space-y-4">
				{#each part.questions as q (q.key)}
					<div hidden={applies.get(q.key) !== 'yes'} class={q.under === undefined ? '' : 'follow-up'}>
						{#key JSON.stringify(q.answer)}<AnswerField
								spec={q.answer}
								name={q.key}
								label="{q.title}{q.required ? '' : ` (${say('en', 'item.questionnaire.optional')})`}"
								value={knows[q.key] ?? null}
								locale="en"
								required={false}
							/>{/key}
						{#if q.help || q.helpText}<div class="mt-1 text-[0.84rem] text-(--half)">
								<ItemWords why={q.help} text={q.helpText ?? null} locale="en" filesAt="/desk/attachments" />
							</div>{/if}
						{#if q.key in knows}<p class="mt-1 text-[0.8rem] text-(--half)">Known already, shown to be confirmed.</p>{/if}
					</div>
				{/each}
			</div>
		{/each}
		{#if parts.length > 1}
			<div class="mt-4 flex gap-2">
				{#if here > 0}<button type="button" class="act-quiet" onclick={() => go(-1)}>Back</button>{/if}
				{#if here < parts.length - 1}<button type="button" class="act flex-1" onclick={() => go(1)}>Go on</button>{/if}
			</div>
		{/if}
	</form>
</div>
<div class="mt-3 text-sm" aria-live="polite">
	{#if out.length === 0}<p class="text-(--half)">Nothing is left out.</p>
	{:else}
		<p class="font-semibold">Left out so far</p>
		<ul>
			{#each out as { key, why } (key)}<li><b class="font-semibold">{numberOf(key)}</b>, <span class="text-(--half)">because {why}</span></li>{/each}
		</ul>
	{/if}
</div>

<style>
	/* what clients see is light, also at night */
	.phone {
		--act: var(--brand);
		--act-ink: #fff;
		--paper: #f8f5ec;
		--sheet: #fffefb;
		--ink: #1d2530;
		--half: #4d5866;
		--rule: #e2dccb;
		--rule-strong: #d9cfb4;
		--wrong: #a3262a;
		max-width: 320px;
		border: 1px solid var(--rule-strong);
		border-radius: 14px;
		overflow: hidden;
		background: var(--paper);
		color: var(--ink);
		color-scheme: light;
	}
	.head {
		padding: 10px 16px;
		background: var(--act);
		color: #fff;
		font-weight: 600;
	}
	.body {
		max-height: 560px;
		overflow: auto;
		padding: 12px 16px 18px;
	}
	.follow-up {
		margin-left: 0.25rem;
		padding-left: 0.8rem;
		border-left: 2px solid var(--act);
	}
	[hidden] {
		display: none;
	}
</style>
