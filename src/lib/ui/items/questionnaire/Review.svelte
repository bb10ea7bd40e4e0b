<script lang="ts">
	import { answerBefore, askedByAnswers } from '$lib/core/items/answer-review';
	import { answerInWords, type Answer } from '$lib/core/items/answers';
	import type { Question } from '$lib/core/items/questions';
	import { partsOf } from '$lib/core/items/which-apply';
	import { deskAnswerReader } from '$lib/words/desk-answers';
	import { timeWords } from '$lib/words/dates';
	import { enhancedForm } from '../../forms/enhanced-form';
	import AnswerField from '../../portal/AnswerField.svelte';
	import type { ReviewProps } from '../review';
	import WordsReview from '../WordsReview.svelte';

	let { item, leaf, timeZone, answered }: ReviewProps<'questionnaire'> = $props();
	const reader = deskAnswerReader();
	const answers = $derived(item.answerData ?? {});
	const { review } = $derived(item);
	/** with those whose answers are not shown to this person */
	const asked = $derived.by(() => {
		const byAnswers = askedByAnswers(item.spec.questions, answers, review);
		return item.spec.questions.filter((question) => item.withheld.includes(question.key) || byAnswers.includes(question));
	});
	const parts = $derived(partsOf(asked));
	const mayJudge = $derived(leaf.acts.includes('judge_item'));
	const handedIn = $derived(item.state === 'handed_in');
	const mayCorrect = $derived(mayJudge && (handedIn || item.state === 'accepted'));
	const accepted = $derived(new Set(review.accepted ?? []));
	/** keys of the answers at which something is written that is to be put right */
	let back = $state<string[]>([]);
	let correcting = $state<string | null>(null);
	let problem = $state('');
	let fields = $state<Record<string, string>>({});
	let pending = $state(false);
	const handling = {
		onPending: (p: boolean) => (pending = p),
		onProblem: (p: { message: string; fields: Record<string, string> }) => {
			problem = p.message;
			fields = p.fields;
		},
		onSuccess: () => {
			problem = '';
			fields = {};
			back = [];
			correcting = null;
		}
	};
	const first = $derived(item.contactName.split(' ')[0]);
	const filesOf = (answer: Answer) => (Array.isArray(answer) ? answer.filter((file) => typeof file === 'object') : []);
	const words = (question: Question, answer: Answer | null | undefined) =>
		answer === null || answer === undefined ? 'no answer' : answerInWords(question.answer, answer, reader);
</script>

{#if answered && item.answerData}
	{#if problem}<p class="notice-wrong" role="alert">{problem}</p>{/if}
	<form
		id="back-{item.id}"
		method="post"
		action="/desk/items/{item.id}?/askBack"
		{@attach enhancedForm(handling)}
		hidden
		aria-label="Ask back single answers"
	>
		<input type="hidden" name="version" value={item.version} />
	</form>
	{#each parts as part, i (i)}
		{@const keys = part.questions.map(({ key }) => key)}
		{@const done = keys.every((key) => accepted.has(key))}
		<section>
			{#if part.title || parts.length > 1}
				<div class="mt-2 flex items-baseline gap-3 border-b border-(--rule-strong) pb-1">
					<h3 class="min-w-0 flex-1 text-[0.98rem]">{part.title || 'To begin with'}</h3>
					{#if done && handedIn}<span class="text-[0.8rem] text-(--half)">accepted</span>
					{:else if mayJudge && handedIn && parts.length > 1}
						<form method="post" action="/desk/items/{item.id}?/acceptPart" {@attach enhancedForm(handling)}>
							<input type="hidden" name="version" value={item.version} />
							{#each keys as key (key)}<input type="hidden" name="key" value={key} />{/each}
							<button class="act-link text-sm" disabled={pending} aria-label="Accept the part {part.title}">Accept this part</button>
						</form>
					{/if}
				</div>
			{/if}
			<dl class="facts">
				{#each part.questions as question (question.key)}
					{@const { key } = question}
					{@const was = answerBefore(review, key, answers)}
					{@const corrected = review.corrected?.[key]}
					<div class:changed={was !== undefined}>
						<dt>{question.title}</dt>
						<dd class="break-words">
							{#if item.withheld.includes(key)}<span class="text-(--half)">not shown to your role</span>
							{:else if key in answers && question.answer.is === 'file'}
								{#each filesOf(answers[key]) as file (file.paper)}<a
										class="act-link mr-3 !inline-block"
										href="/desk/papers/{file.paper}"
										target="_blank"
										rel="noopener">{file.name}</a
									>{/each}
							{:else if key in answers}<span class="whitespace-pre-wrap">{words(question, answers[key])}</span>
							{:else if review.unknown?.includes(key)}<span class="text-(--lamp-deep)"
									>{first}
									{question.answer.is === 'file' ? 'does not have it' : 'does not know'}</span
								>
							{:else}<span class="text-(--half)">no answer</span>{/if}
							{#if corrected}<span class="block text-[0.82rem] text-(--half)"
									>{item.contactName} answered: “{words(question, corrected.was)}”. Corrected by {corrected.by}, {timeWords(
										'en',
										corrected.at,
										timeZone
									)}.</span
								>
							{:else if was}<span class="block text-[0.82rem] text-(--lamp-deep)">before: “{words(question, was.was)}”</span>{/if}
							{#if mayCorrect && !item.withheld.includes(key) && correcting !== key && !back.includes(key)}
								<span class="acts">
									{#if handedIn}<button type="button" class="act-link" aria-label="Ask back: {question.title}" onclick={() => (back = [...back, key])}
											>ask back</button
										>{/if}
									{#if question.answer.is !== 'file'}<button
											type="button"
											class="act-link"
											aria-label="Correct: {question.title}"
											onclick={() => {
												correcting = key;
												problem = '';
												fields = {};
											}}>correct</button
										>{/if}
								</span>
							{/if}
							{#if back.includes(key)}
								<span class="mt-1 flex items-end gap-2">
									<label class="field flex-1"
										><span>What is to be put right? {first} reads this.</span>
										<!-- svelte-ignore a11y_autofocus -->
										<input form="back-{item.id}" name="back.{key}" maxlength="400" autofocus /></label
									>
									<button type="button" class="act-link pb-2" onclick={() => (back = back.filter((other) => other !== key))}>leave it</button>
								</span>
							{/if}
						</dd>
						{#if correcting === key}
							<form
								method="post"
								action="/desk/items/{item.id}?/correct"
								class="notice-lamp mt-1 space-y-2"
								novalidate
								{@attach enhancedForm(handling)}
							>
								<input type="hidden" name="version" value={item.version} /><input type="hidden" name="question" value={key} />
								<AnswerField
									spec={question.answer}
									name={key}
									label={question.title}
									value={answers[key] ?? null}
									locale="en"
									required={false}
									wrong={fields[key]}
								/>
								<p class="text-[0.8rem] text-(--half)">
									What {first} answered stays beside it.{question.fact ? ' The fact that it becomes follows.' : ''}
								</p>
								<button class="act-quiet" disabled={pending}>Correct it</button>
								<button type="button" class="act-link ml-2" onclick={() => (correcting = null)}>Leave it</button>
							</form>
						{/if}
					</div>
				{/each}
			</dl>
		</section>
	{/each}
	{#if leaf.brings.length > 0}
		<div class="mt-3 border-l-2 border-(--lamp-edge) pl-3 text-[0.92rem]">
			<p class="font-semibold">{handedIn ? 'Accepting it brings about' : 'These answers brought about'}</p>
			<ul>
				{#each leaf.brings as bring (bring.key)}<li class="flex flex-wrap items-baseline gap-x-3">
						<span class:line-through={bring.left} class:text-(--half)={bring.left}>{bring.words}</span>
						{#if bring.left}<span class="text-sm text-(--half)">left out</span>{/if}
						{#if handedIn && mayJudge}<form method="post" action="/desk/items/{item.id}?/leaveOut" class="inline" {@attach enhancedForm(handling)}>
								<input type="hidden" name="version" value={item.version} /><input type="hidden" name="key" value={bring.key} />
								<button
									class="act-link text-sm"
									name="out"
									value={bring.left ? 'no' : 'yes'}
									disabled={pending}
									aria-label="{bring.left ? 'Let it happen after all' : 'Leave it out'}: {bring.words}"
									>{bring.left ? 'let it happen after all' : 'leave it out'}</button
								>
							</form>{/if}
					</li>{/each}
			</ul>
		</div>
	{/if}
	{#if item.signed}<p class="mt-2 text-[0.92rem]">
			Signed by {item.signed.name}, {timeWords('en', item.signed.at, timeZone)}.
			{#if !item.signed.sealed}The sealed file is being made.
			{:else if item.withheld.length === 0}<a class="act-link" href="/desk/items/{item.id}/pdf?signed" target="_blank" rel="noopener"
					>The sealed file</a
				>{/if}
			{#if review.corrected}<span class="text-(--half)">It holds what was signed, not what was corrected since.</span>{/if}
		</p>{/if}
	<p class="mt-2 flex flex-wrap gap-x-4 text-sm">
		<a class="act-link" href="/desk/items/{item.id}/pdf?explanations=no" target="_blank" rel="noopener">As PDF</a>
		<a class="act-link" href="/desk/items/{item.id}/pdf" target="_blank" rel="noopener">with explanations</a>
		{#if item.spec.from}<a class="act-link" href="/desk/library/questionnaires/{item.spec.from.id}/answers">Answers of all clients</a>{/if}
	</p>
	{#if back.length > 0}
		<p class="notice-lamp">
			Only {back.length === 1 ? 'this answer is' : `these ${back.length} answers are`} open again for {first}; the rest stays handed in.
			<button class="act-quiet ml-1" form="back-{item.id}" disabled={pending}>Ask back</button>
		</p>
	{/if}
{:else}<WordsReview {item} {leaf} {timeZone} {answered} />{/if}

<style>
	dl > div {
		position: relative;
	}
	/* they come to whoever points at the answer, or goes there by keyboard */
	.acts {
		position: absolute;
		top: 4px;
		right: 0;
		display: flex;
		gap: 12px;
		padding: 2px 0 2px 10px;
		font-size: 0.8rem;
		background: var(--leaf);
		opacity: 0;
	}
	dl > div:hover .acts,
	dl > div:focus-within .acts {
		opacity: 1;
	}
	@media (hover: none) {
		.acts {
			position: static;
			opacity: 1;
		}
	}
	.changed {
		background: var(--lamp-soft);
	}
</style>
