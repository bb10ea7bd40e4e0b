<script lang="ts">
	import { tick } from 'svelte';
	import { SLOT_TYPES } from '$lib/core/items/slots';
	import type { FirmFacts } from '$lib/core/facts/fact-definition';
	import { factInWords } from '$lib/core/facts/fact-words';
	import { ANSWER_KINDS, ANSWER_WORDS, answerOfFact, newQuestion, type AnswerKind, type Question } from '$lib/core/items/questions';
	import { freshAnswer, guessAnswer, questionsOfText } from '$lib/core/items/questions-of-text';
	import type { WritingPlace } from '$lib/core/requests/writing-place';
	import { minutesOf, partsOf } from '$lib/core/items/which-apply';
	import { conditionInWords, firstCondition, type AnswerCondition, type Condition } from '$lib/core/requests/conditions';
	import { factReader } from '$lib/words/facts';
	import { checkInWords } from '$lib/core/items/checks';
	import { aboveOf, depthOf, firstWhen, indent, moveQuestion, outdent, removeQuestion } from '$lib/core/questionnaires/sheet-moves';
	import { answerConditionInWords } from '$lib/core/questionnaires/answer-words';
	import { troublesOf } from '$lib/core/questionnaires/troubles';
	import AnswerSpecFields from './AnswerSpecFields.svelte';
	import BringFields from './BringFields.svelte';
	import CheckFields from './CheckFields.svelte';
	import ConditionEditor from './ConditionEditor.svelte';
	import ItemTextEditor from './ItemTextEditor.svelte';
	import WhenFields from './WhenFields.svelte';

	/**
	 * A questionnaire, written like a document: a question a line. Enter makes the next one, Tab puts it under the one above as a follow-up,
	 * a line that begins with # or ends in a colon is the heading of a part, pasted lines become questions.
	 */
	let {
		questions = $bindable(),
		facts,
		currency,
		services,
		staff = [],
		lists = [],
		alwaysKnown = [],
		head = true
	}: {
		questions: Question[];
		facts: FirmFacts;
		currency: string;
		/** names of what the firm does */ services: readonly string[];
		/** people of the firm, who may be given tasks; without them nothing follows from an answer */ staff?: readonly { id: string; name: string }[];
		/** lists of the Library */ lists?: WritingPlace['lists'];
		/** names of facts that are known of every client */ alwaysKnown?: readonly string[];
		/** whether it says itself how many questions there are */ head?: boolean;
	} = $props();
	const id = $props.id();
	let open = $state<string | null>(null);
	let said = $state('');
	/** whose kind was chosen by hand: their words no longer change it */
	const chosen = new Set<string>();
	const reader = factReader('en', '');

	const newKey = () => crypto.randomUUID().slice(0, 8);
	const fresh = (more: Partial<Question> = {}) => newQuestion(newKey(), '', { is: 'words' }, more);
	const at = (key: string) => questions.findIndex((question) => question.key === key);
	const above = (question: Question) => aboveOf(questions, question);
	const depth = (question: Question) => depthOf(questions, question);
	const number = (i: number) => i + 1;
	const parts = $derived(partsOf(questions).length);
	const troubles = $derived(troublesOf(questions, facts, alwaysKnown));
	/** What is wrong with an empty line shows itself. */
	const troublesAt = (question: Question) => (question.title.trim() === '' ? [] : troubles.filter(({ key }) => key === question.key));
	const earlierThan = (i: number) => questions.slice(0, i).map((one, n) => ({ ...one, number: n + 1 }));
	const answerWords = (condition: AnswerCondition) => answerConditionInWords(condition, questions, reader);

	/** the question that somebody writes in, clicked or went to by the arrows: only there Tab hangs it under another one */
	let inHand: string | null = null;
	async function focus(key: string | undefined, end = true) {
		await tick();
		const field = key === undefined ? null : document.getElementById(`${id}-${key}`);
		if (!(field instanceof HTMLInputElement)) return;
		field.focus();
		inHand = key ?? null;
		if (end) field.setSelectionRange(field.value.length, field.value.length);
	}
	function putUnder(question: Question): boolean {
		const upper = indent(questions, question);
		if (upper) said = `Question ${number(at(question.key))} is now a follow-up of question ${number(at(upper.key))}.`;
		return upper !== null;
	}
	function takeOut(question: Question): boolean {
		if (!outdent(questions, question)) return false;
		said = `Question ${number(at(question.key))} stands by itself${question.under === undefined ? '' : ', one step further out'}.`;
		return true;
	}
	function remove(question: Question) {
		removeQuestion(questions, question);
		if (open === question.key) open = null;
	}
	function move(question: Question, by: -1 | 1) {
		const to = moveQuestion(questions, question, by);
		if (to === null) return;
		said = `Moved to place ${to + 1} of ${questions.length}.`;
		void focus(question.key);
	}
	function onKey(event: KeyboardEvent, question: Question) {
		const i = at(question.key);
		const field = event.currentTarget as HTMLInputElement;
		if (event.key === 'Enter') {
			event.preventDefault();
			if (event.altKey) return void (open = open === question.key ? null : question.key);
			const heading = /^#{1,4}\s*(.+)$/.exec(question.title)?.[1] ?? /^(.+):$/.exec(question.title.trim())?.[1];
			if (heading) {
				// the line is the heading of what comes next
				Object.assign(question, { title: '', part: heading.trim(), under: undefined, when: undefined });
				return void focus(question.key);
			}
			const made = fresh({ under: question.under, when: question.when && { ...question.when } });
			questions.splice(i + 1, 0, made);
			void focus(made.key);
		} else if (event.key === 'Tab' && !event.altKey && !event.ctrlKey && !event.metaKey) {
			// where there is nothing to put under or out, and for whoever only passes by, Tab goes on as everywhere
			if (inHand !== question.key) return;
			if (event.shiftKey ? takeOut(question) : question.title !== '' && question.under === undefined && putUnder(question)) event.preventDefault();
		} else if (event.key === 'Backspace' && field.value === '' && questions.length > 1) {
			event.preventDefault();
			const before = questions[i - 1] ?? questions[i + 1];
			remove(question);
			void focus(before.key);
		} else if (event.altKey && (event.key === 'ArrowRight' || event.key === 'ArrowLeft')) {
			event.preventDefault();
			if (event.key === 'ArrowRight') putUnder(question);
			else takeOut(question);
		} else if (event.altKey && (event.key === 'ArrowUp' || event.key === 'ArrowDown')) {
			event.preventDefault();
			event.stopPropagation();
			move(question, event.key === 'ArrowUp' ? -1 : 1);
		} else if (event.key === 'ArrowUp' || event.key === 'ArrowDown') {
			const to = questions[i + (event.key === 'ArrowUp' ? -1 : 1)];
			if (!to) return;
			event.preventDefault();
			void focus(to.key);
		}
	}
	function onInput(question: Question) {
		inHand = question.key;
		if (!chosen.has(question.key) && question.fact === null && !('choices' in question.answer))
			question.answer = guessAnswer(question.title, currency);
	}
	function onPaste(event: ClipboardEvent, question: Question) {
		const text = event.clipboardData?.getData('text/plain') ?? '';
		if (!/\n/.test(text.trim())) return;
		event.preventDefault();
		const made = questionsOfText(text, currency, newKey);
		if (made.length === 0) return;
		const i = at(question.key);
		for (const one of made) if (one.answer.is !== 'words') chosen.add(one.key);
		// an empty line is replaced
		questions.splice(question.title === '' ? i : i + 1, question.title === '' ? 1 : 0, ...made);
		if (question.title === '' && question.part !== undefined && made[0].part === undefined) made[0].part = question.part;
		said = `${made.length} questions were added.`;
		void focus(made.at(-1)?.key);
	}
	/** A condition begins with the answer before it, if there is one. */
	function beginCondition(i: number): Condition {
		const before = questions[i - 1];
		if (!before) return firstCondition(facts);
		return { kind: 'answer', question: before.key, ...(firstWhen(before) ?? { is: 'known', value: '' }) };
	}
	function chooseKind(question: Question, is: AnswerKind) {
		chosen.add(question.key);
		question.fact = null;
		question.answer = freshAnswer(is, currency, question.answer);
		if ('choices' in question.answer && question.answer.choices.every((choice) => choice === '')) open = question.key;
		for (const other of questions) if (other.under === question.key) other.when = firstWhen(question);
	}
	/** Of whom and when a question is asked, apart from what else there is to say of it. */
	function onlyIf(question: Question): string {
		const upper = above(question);
		return [
			upper ? `only if ${answerWords({ kind: 'answer', question: upper.key, ...(question.when ?? { is: 'known', value: '' }) })}` : '',
			question.condition
				? `only if ${conditionInWords(question.condition, facts, (of, value, is) => factInWords(of, value, reader, is), answerWords)}`
				: ''
		]
			.filter(Boolean)
			.join(' · ');
	}
	function asideOf(question: Question): string {
		const fact = question.fact ? facts.get(question.fact) : undefined;
		return [
			'choices' in question.answer ? [...question.answer.choices.filter(Boolean), ...(question.answer.other ? ['or another'] : [])].join(', ') : '',
			question.answer.is === 'file' && question.answer.accepts !== 'any' ? SLOT_TYPES[question.answer.accepts] : '',
			question.answer.is === 'table' ? question.answer.columns.map(({ label }) => label).join(', ') : '',
			checkInWords(question.answer.is, question.check),
			fact ? `becomes the fact ${fact.label}` : '',
			question.brings ? (question.brings.length === 1 ? 'one thing follows' : `${question.brings.length} things follow`) : '',
			question.required ? '' : 'need not be answered'
		]
			.filter(Boolean)
			.join(' · ');
	}
</script>

{#if head}<p class="text-[0.84rem] text-(--half)">
		{questions.length === 1 ? 'One question' : `${questions.length} questions`}{parts > 1 ? ` in ${parts} parts` : ''}, about {minutesOf(
			questions
		) === 1
			? 'a minute'
			: `${minutesOf(questions)} minutes`}. Enter makes the next one, Tab a follow-up of the one above; “# …” begins a part.
	</p>{/if}
<p class="sr" aria-live="polite">{said}</p>
<ol class="sheet-of-questions">
	{#each questions as question, i (question.key)}
		{@const upper = above(question)}
		<li>
			{#if question.part !== undefined}
				<input
					class="part serif"
					aria-label="Heading of the part"
					value={question.part}
					maxlength="80"
					oninput={(event) => (question.part = event.currentTarget.value)}
					onblur={() => {
						if (question.part?.trim() === '') question.part = undefined;
					}}
				/>
			{/if}
			<div class="row" class:lit={open === question.key}>
				<select
					class="choice-among-words kind"
					aria-label="How question {number(i)} is answered"
					value={question.answer.is}
					onchange={(event) => chooseKind(question, event.currentTarget.value as AnswerKind)}
				>
					{#each ANSWER_KINDS as is (is)}<option value={is}>{ANSWER_WORDS[is].words}</option>{/each}
				</select>
				<div class="words" style:padding-left="{depth(question) * 26 + 12}px">
					{#if upper}<span
							class="hangs"
							class:long={questions[i - 1]?.under === question.under}
							style:left="{depth(question) * 26 - 6}px"
							aria-hidden="true"
						></span>{/if}
					<span class="number" aria-hidden="true">{number(i)}.</span>
					<input
						id="{id}-{question.key}"
						class="title"
						aria-label="Question {number(i)}{upper ? `, a follow-up of ${number(at(upper.key))}` : ''}"
						aria-keyshortcuts="Enter Alt+Enter Alt+ArrowUp Alt+ArrowDown Alt+ArrowRight Alt+ArrowLeft"
						bind:value={question.title}
						maxlength="200"
						placeholder={i === 0 ? '“How many …” becomes a number, “When …” a date, pasted lines with dashes choices' : 'Write a question'}
						onkeydown={(event) => onKey(event, question)}
						oninput={() => onInput(question)}
						onclick={() => (inHand = question.key)}
						onblur={() => (inHand = null)}
						onpaste={(event) => onPaste(event, question)}
					/>
					{#if open !== question.key}<span class="aside"
							>{#if onlyIf(question)}<span class="text-(--lamp-deep)">{onlyIf(question)}{asideOf(question) ? ' · ' : ''}</span>{/if}{asideOf(
								question
							)}</span
						>{/if}
					<button
						type="button"
						class="act-link more"
						aria-expanded={open === question.key}
						aria-label="More about question {number(i)}"
						onclick={() => (open = open === question.key ? null : question.key)}>{open === question.key ? 'close' : 'more'}</button
					>
				</div>
			</div>
			{#if open !== question.key && troublesAt(question).length > 0}
				<p class="troubles" style:padding-left="{depth(question) * 26 + 36}px">
					{#each troublesAt(question) as trouble, n (n)}<span class:text-(--wrong)={trouble.wrong}>{trouble.words}</span>{/each}
				</p>
			{/if}
			{#if open === question.key}
				<div class="opened">
					{#if upper}<WhenFields bind:question={questions[i]} above={upper} />{/if}
					<div class="mt-3 flex flex-wrap gap-x-5 gap-y-3">
						<div class="min-w-64 flex-1">
							{#if question.fact}<p class="field-label pt-5">Answered as “{facts.get(question.fact)?.label ?? question.fact}” is written down.</p>
							{:else}<AnswerSpecFields bind:answer={question.answer} {currency} />{/if}
						</div>
						{#if question.answer.is !== 'file'}<label class="field"
								><span>Kept as a fact, and never asked again</span><select
									value={question.fact ?? ''}
									onchange={(event) => {
										question.fact = event.currentTarget.value || null;
										const fact = question.fact && facts.get(question.fact);
										if (fact) question.answer = answerOfFact(fact);
									}}
								>
									<option value="">no, only an answer</option>
									{#each facts.asked as fact (fact.name)}<option value={fact.name}>{fact.label}</option>{/each}
								</select></label
							>{/if}
					</div>
					<div class="mt-3 flex flex-wrap gap-x-5 gap-y-2"><CheckFields bind:check={question.check} is={question.answer.is} /></div>
					<div class="mt-3">
						<ItemTextEditor
							bind:why={question.help}
							bind:text={() => question.helpText ?? null, (text) => (question.helpText = text ?? undefined)}
							label="Explanation, below the question. Addresses of pages and videos become links."
						/>
					</div>
					<div class="mt-2 flex flex-wrap items-center gap-x-5 gap-y-1 text-sm">
						<label class="flex items-center gap-2"><input type="checkbox" bind:checked={question.required} /> needed</label>
						{#if question.condition}<span class="text-(--half)">Asked only if</span>{:else}<button
								type="button"
								class="act-link"
								onclick={() => (question.condition = beginCondition(i))}>Ask only if …</button
							>{/if}
						<button type="button" class="act-link" disabled={questions.length === 1} onclick={() => remove(question)}>Remove the question</button>
					</div>
					{#if question.condition}
						<div class="mt-1">
							<ConditionEditor
								bind:condition={() => question.condition!, (condition) => (question.condition = condition)}
								services={[...services]}
								{facts}
								earlier={earlierThan(i)}
							/>
							<button type="button" class="act-link text-sm" onclick={() => (question.condition = undefined)}>Ask always</button>
						</div>
					{/if}
					{#if staff.length > 0}<div class="mt-2">
							<BringFields bind:brings={question.brings} answer={question.answer} {staff} {lists} {services} />
						</div>{/if}
				</div>
			{/if}
		</li>
	{/each}
</ol>
<button
	type="button"
	class="act-link add mt-2 text-sm"
	onclick={() => {
		const made = fresh();
		questions.push(made);
		void focus(made.key);
	}}>Add a question</button
>

<style>
	.sheet-of-questions {
		margin-top: 0.4rem;
		border-top: 1px solid var(--rule);
		background: linear-gradient(90deg, transparent 118px, var(--margin-line) 118px, var(--margin-line) 119px, transparent 119px) var(--sheet);
	}
	.row {
		display: grid;
		grid-template-columns: 118px minmax(0, 1fr);
		align-items: center;
		border-bottom: 1px solid var(--rule);
		min-height: 34px;
	}
	.lit {
		background: linear-gradient(90deg, transparent 118px, var(--lamp-soft) 118px);
	}
	.kind {
		width: 100%;
		padding-right: 10px;
		font-size: 0.78rem;
		color: var(--half);
		text-align: right;
		text-align-last: right;
		border-color: transparent;
	}
	.words {
		position: relative;
		display: flex;
		align-items: center;
		gap: 6px;
		padding-right: 10px;
	}
	.hangs {
		position: absolute;
		top: -10px;
		bottom: 50%;
		width: 14px;
		border-left: 1px solid var(--lamp-deep);
		border-bottom: 1px solid var(--lamp-deep);
	}
	.hangs.long {
		top: -42px;
	}
	.number {
		font-size: 0.84rem;
		color: var(--half);
		font-variant-numeric: tabular-nums;
	}
	.title,
	.part {
		flex: 1;
		min-width: 0;
		border: 0;
		padding: 5px 4px;
		background: none;
		font-size: 0.9rem;
		font-weight: 600;
	}
	.title::placeholder {
		font-weight: 400;
		color: var(--half);
	}
	.title:focus,
	.part:focus {
		outline: 2px solid var(--act);
		outline-offset: -2px;
		border-radius: 3px;
	}
	.part {
		display: block;
		width: calc(100% - 130px);
		margin: 14px 0 2px 130px;
		font-size: 1rem;
	}
	.more {
		font-size: 0.8rem;
		white-space: nowrap;
	}
	.aside {
		flex: 0 1 auto;
		max-width: 100%;
		margin-left: auto;
		font-size: 0.78rem;
		color: var(--half);
		text-align: right;
	}
	.troubles {
		margin-left: 118px;
		padding: 2px 10px 4px;
		border-bottom: 1px solid var(--rule);
		font-size: 0.8rem;
		font-weight: 600;
		color: var(--lamp-deep);
	}
	.troubles span {
		display: block;
	}
	/* the words take the room they need, and what is said of them stands on the same line where it fits */
	@supports (field-sizing: content) {
		.words {
			flex-wrap: wrap;
			row-gap: 0;
		}
		.title {
			field-sizing: content;
			flex: 0 1 auto;
			min-width: 12rem;
			max-width: calc(100% - 110px);
		}
	}
	.add {
		margin-left: 130px;
	}
	.opened {
		margin-left: 119px;
		padding: 8px 14px 14px;
		border-bottom: 1px solid var(--rule-strong);
		background: var(--lamp-soft);
	}
	@media (max-width: 640px) {
		.sheet-of-questions {
			background: var(--sheet);
		}
		.row {
			grid-template-columns: 1fr;
		}
		.kind {
			text-align: left;
			text-align-last: left;
		}
		.troubles,
		.opened,
		.add,
		.part {
			margin-left: 0;
		}
	}
</style>
