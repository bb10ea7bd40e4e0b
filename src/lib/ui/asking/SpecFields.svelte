<script lang="ts">
	import { FACTS } from '$lib/core/clients/facts';
	import { answerOfFact, ASKABLE_FACTS, SLOT_TYPES, type ItemSpec } from '$lib/core/requests/item-kinds';
	import type { LineInHand } from '$lib/core/requests/request-list';
	import { LINE_QUESTION_WORDS, LINE_QUESTIONS } from '$lib/core/transactions/line-questions';
	import { amountWords } from '$lib/words/amounts';
	import { dateWords } from '$lib/words/dates';
	import LetterEditor from '../LetterEditor.svelte';
	import AnswerSpecFields from './AnswerSpecFields.svelte';

	/** What a line asks for beyond its words, by its kind. */
	let { line = $bindable(), currency, timeZone }: { line: LineInHand; currency: string; timeZone: string } = $props();
	const paper = $derived(line.spec as ItemSpec<'paper'>);
	const question = $derived(line.spec as ItemSpec<'question'>);
	const questionnaire = $derived(line.spec as ItemSpec<'questionnaire'>);
	const read = $derived(line.spec as ItemSpec<'read'>);
	const book = $derived(line.spec as ItemSpec<'book'>);
	const access = $derived(line.spec as ItemSpec<'access'>);
	const transactions = $derived(line.spec as ItemSpec<'transactions'>);
	let newTime = $state('');

	/** What clocks in the firm's time zone show, as an instant. */
	function instantOf(local: string): string {
		const guess = new Date(`${local}:00Z`);
		const shown = new Intl.DateTimeFormat('sv-SE', { timeZone, dateStyle: 'short', timeStyle: 'short' }).format(guess).replace(' ', 'T');
		return new Date(guess.getTime() - (Date.parse(`${shown}:00Z`) - guess.getTime())).toISOString();
	}
	const timeInWords = (at: string) =>
		new Intl.DateTimeFormat('en-GB', { timeZone, weekday: 'short', day: 'numeric', month: 'short', hour: '2-digit', minute: '2-digit' }).format(
			new Date(at)
		);
	function addTime() {
		if (!newTime) return;
		const at = instantOf(newTime);
		if (!book.times.includes(at)) book.times = [...book.times, at].sort();
		newTime = '';
	}
	const factLabel = 'Kept as a fact, and never asked again';
</script>

{#if line.kind === 'paper'}
	<label class="field mb-3 max-w-xs"
		><span>Statements of accounts</span><select bind:value={paper.statementsOf}>
			<option value="none">no, one paper</option>
			<option value="bank">one line for each bank account</option>
			<option value="card">one line for each card</option>
			<option value="loan">one line for each loan</option>
			<option value="payment">one line for each payment service</option>
			<option value="all">one line for each account</option>
		</select></label
	>
	<fieldset>
		<legend class="field-label">Named files, where it matters which one is which</legend>
		<ul class="space-y-1.5">
			{#each paper.slots as slot, i (i)}<li class="flex flex-wrap gap-2">
					<input class="line-input !w-60" bind:value={slot.name} maxlength="80" aria-label="Name of file {i + 1}" placeholder="Front side" />
					<select class="line-input !w-auto" bind:value={slot.accepts} aria-label="What file {i + 1} may be"
						>{#each Object.entries(SLOT_TYPES) as [type, words] (type)}<option value={type}>{words}</option>{/each}</select
					>
					<button type="button" class="act-link text-sm" onclick={() => paper.slots.splice(i, 1)}>Remove</button>
				</li>{/each}
		</ul>
		<button type="button" class="act-link text-sm" onclick={() => paper.slots.push({ name: '', accepts: 'any' })}>Add a named file</button>
	</fieldset>
{:else if line.kind === 'question'}
	<div class="flex flex-wrap gap-3">
		{#if question.fact}
			<p class="field-label self-end pb-2">Answered as “{FACTS[question.fact].label}” is written down.</p>
		{:else}<AnswerSpecFields bind:answer={question.answer} {currency} />{/if}
		<label class="field"
			><span>{factLabel}</span><select
				value={question.fact ?? ''}
				onchange={(event) => {
					question.fact = (event.currentTarget.value || null) as typeof question.fact;
					if (question.fact) question.answer = answerOfFact(question.fact);
				}}
			>
				<option value="">no, only an answer</option>
				{#each ASKABLE_FACTS as name (name)}<option value={name}>{FACTS[name].label}</option>{/each}
			</select></label
		>
	</div>
{:else if line.kind === 'questionnaire'}
	<ol class="space-y-3">
		{#each questionnaire.questions as q, i (q.key)}
			<li class="border-l-2 border-(--rule-strong) pl-3">
				<div class="flex flex-wrap items-end gap-2">
					<label class="field min-w-60 flex-1"><span>Question {i + 1}</span><input bind:value={q.title} maxlength="200" /></label>
					<label class="flex items-center gap-1.5 pb-2 text-sm"><input type="checkbox" bind:checked={q.required} /> needed</label>
					{#if questionnaire.questions.length > 1}<button
							type="button"
							class="act-link pb-2 text-sm"
							aria-label="Remove question {i + 1}"
							onclick={() => questionnaire.questions.splice(i, 1)}>Remove</button
						>{/if}
				</div>
				<div class="mt-1"><AnswerSpecFields bind:answer={q.answer} {currency} /></div>
			</li>
		{/each}
	</ol>
	<button
		type="button"
		class="act-link mt-2 text-sm"
		onclick={() =>
			questionnaire.questions.push({
				key: crypto.randomUUID().slice(0, 8),
				title: '',
				help: '',
				required: true,
				answer: { is: 'words' },
				fact: null
			})}>Add a question</button
	>
	<label class="mt-2 flex items-center gap-2 text-sm"><input type="checkbox" bind:checked={questionnaire.files} /> files may be added</label>
{:else if line.kind === 'read'}
	<label class="field"
		><span>Address of a page, if it is one</span><input type="url" bind:value={read.link} maxlength="500" placeholder="https://…" /></label
	>
{:else if line.kind === 'book'}
	<div class="grid gap-3 sm:grid-cols-2">
		<label class="field"
			><span>Address of a page for booking, if you have one</span><input
				type="url"
				bind:value={book.link}
				maxlength="500"
				placeholder="https://…"
			/></label
		>
		<label class="field"><span>Where, or how</span><input bind:value={book.where} maxlength="200" placeholder="at our office; we ring you …" /></label
		>
	</div>
	<fieldset class="mt-3">
		<legend class="field-label">Times they can choose from ({timeZone.replaceAll('_', ' ')})</legend>
		<ul class="flex flex-wrap gap-2 text-sm">
			{#each book.times as time (time)}<li class="flex items-center gap-1.5 border border-(--rule-strong) bg-(--sheet) px-2 py-0.5">
					{timeInWords(time)}<button
						type="button"
						class="act-link"
						aria-label="Remove {timeInWords(time)}"
						onclick={() => (book.times = book.times.filter((other) => other !== time))}>×</button
					>
				</li>{/each}
		</ul>
		<div class="mt-1.5 flex flex-wrap gap-2">
			<input type="datetime-local" class="line-input !w-auto" bind:value={newTime} aria-label="A time" />
			<button type="button" class="act-quiet" onclick={addTime}>Offer this time</button>
			<label class="flex items-center gap-2 text-sm"
				><input type="number" class="line-input !w-20" min="5" max="480" bind:value={book.minutes} /> minutes each</label
			>
		</div>
	</fieldset>
{:else if line.kind === 'access'}
	<div class="grid gap-3 sm:grid-cols-2">
		<label class="field"><span>Which system</span><input bind:value={access.system} maxlength="80" placeholder="your bank, your till …" /></label>
		<label class="field"
			><span>Whom they add there</span><input bind:value={access.invite} maxlength="200" placeholder="books@our-firm.example" /></label
		>
	</div>
	<label class="mt-2 flex items-start gap-2 text-sm"
		><input type="checkbox" class="mt-1" bind:checked={access.secret} /> There is no other way than a password or code: they may give it here. It is kept
		apart, encrypted, shown with a record, and gone after 14 days.</label
	>
{:else if line.kind === 'transactions'}
	<div class="grid gap-3 sm:grid-cols-2">
		<label class="field"
			><span>What is wanted for each line</span><select bind:value={transactions.asks}
				>{#each LINE_QUESTIONS as asks (asks)}<option value={asks}>{LINE_QUESTION_WORDS[asks]}</option>{/each}</select
			></label
		>
		<label class="field"
			><span>Choices besides words, one a line; none is possible</span><textarea
				rows="4"
				value={transactions.choices.join('\n')}
				oninput={(event) =>
					(transactions.choices = event.currentTarget.value
						.split('\n')
						.map((choice) => choice.trim())
						.filter(Boolean))}></textarea></label
		>
	</div>
	<ul class="mt-2 max-h-80 overflow-y-auto border-t border-(--rule-strong) text-sm" aria-label="Lines asked about">
		{#each transactions.lines as one (one.id)}<li class="flex items-baseline gap-3 border-b border-(--rule) py-1">
				<span class="w-24 whitespace-nowrap text-(--half)">{dateWords('en', one.day, 'withYear')}</span>
				<span class="min-w-0 flex-1 truncate">{one.who || one.words}</span>
				<span class="whitespace-nowrap tabular-nums">{one.amount.startsWith('-') ? '−' : ''}{amountWords('en', one.amount, one.currency)}</span>
				{#if transactions.lines.length > 1}<button
						type="button"
						class="act-link"
						aria-label="Remove {one.who || one.words} of {one.day}"
						onclick={() => (transactions.lines = transactions.lines.filter((other) => other.id !== one.id))}>Remove</button
					>{/if}
			</li>{/each}
	</ul>
{:else if line.kind === 'letter' && line.document}
	<LetterEditor bind:document={line.document} label="Words of {line.title}" />
{/if}
