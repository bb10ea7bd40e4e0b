<script lang="ts">
	import { onMount, tick, untrack, type Snippet } from 'svelte';
	import { answerInWords } from '$lib/core/items/answers';
	import { openWhileAskedBack, shutAnswers, unknownField } from '$lib/core/items/answer-review';
	import { typedAnswer } from '$lib/core/items/comparable';
	import { answersOfFiles, type Answers, type Question } from '$lib/core/items/questions';
	import { minutesOf, partsOf, whichApply } from '$lib/core/items/which-apply';
	import { ANSWER, type TypedValue } from '$lib/core/requests/typed';
	import { dayOf } from '$lib/words/dates';
	import { answerReader } from '$lib/words/answers';
	import { sayer, type WordKey } from '$lib/words/words';
	import { enhancedForm } from '../forms/enhanced-form';
	import PaperUpload from '../papers/PaperUpload.svelte';
	import { underway } from '../papers/uploads.svelte';
	import AnswerField from '../portal/AnswerField.svelte';
	import ItemWords from '../portal/ItemWords.svelte';
	import AddedFiles from '../items/AddedFiles.svelte';
	import type { AnswerProps } from '../items/answer';
	import { answersIn } from './answers-in';
	import FileAnswer from './FileAnswer.svelte';
	import SignaturePlace from '../letters/SignaturePlace.svelte';

	type Given = AnswerProps<'questionnaire'>;
	/** Questions answered part by part, and all looked over before they are handed in: by a client, or by anybody on a public page. */
	let {
		item,
		open,
		locale,
		brand,
		home,
		filesAt,
		now,
		handling,
		pending,
		keeping,
		typed,
		fields,
		known,
		askAbout,
		onProblem,
		action = '?/handIn',
		kept = 'item.questionnaire.kept',
		send = 'item.questionnaire.handIn',
		last,
		signer = null,
		passed = [],
		passOn
	}: Omit<Given, 'item' | 'remarks' | 'refused' | 'reader' | 'passed'> & {
		passed?: Given['passed'];
		item: Pick<Given['item'], 'id' | 'title' | 'spec' | 'answerData' | 'review' | 'papers'>;
		/** who signs the answers, and whether that is whoever reads this; null where nobody does */ signer?: { name: string; isReader: boolean } | null;
		action?: string;
		/** what is said above the button */ kept?: WordKey;
		/** what stands on it */ send?: WordKey;
		/** what is asked besides, before it is sent; told whether it can be seen */ last?: Snippet<[boolean]>;
	} = $props();
	const say = $derived(sayer(locale));
	const { questions, files: withFiles } = $derived(item.spec);
	const answers = $derived(item.answerData ?? {});
	const answersId = $props.id();
	let form = $state<HTMLFormElement>();
	/** what stands in the fields: to begin with what was typed, else answered, else known */
	let written = $state<Answers>(
		untrack(() =>
			Object.fromEntries(
				item.spec.questions.flatMap(({ key, answer }) => {
					// which files there are is read from the files
					if (answer.is === 'file') return [];
					const before = typed(ANSWER + key);
					const one = before === undefined ? (item.answerData?.[key] ?? known[key]?.answer) : typedAnswer(answer, before);
					return one === undefined ? [] : [[key, one]];
				})
			)
		)
	);
	/** with the files that are there */
	const given = $derived({ ...written, ...answersOfFiles(questions, item.papers) });
	const wantsFiles = $derived(questions.filter(({ answer }) => answer.is === 'file'));
	/** where no scripts run: which question a file answers is chosen beside it */
	const slotsPlain = $derived(
		wantsFiles.flatMap(({ key, title, answer }) => (answer.is === 'file' ? [{ name: key, words: title, accepts: answer.accepts }] : []))
	);
	/** files are on their way: what is handed in now would lack them */
	const busy = $derived(underway().some(({ at: to }) => to === `${home}/item/${item.id}`));
	/** of what the firm asked back: what can be answered now; null for everything */
	const openKeys = $derived(openWhileAskedBack(questions, item.review, answers, whichApply(questions, answers, null, dayOf(now, brand.timeZone))));
	const isShut = (key: string) => openKeys !== null && !openKeys.has(key);
	/** questions whose answer they say they do not know */
	let unknown = $state<string[]>(
		untrack(() => {
			const before = item.spec.questions.filter(({ key }) => typed(ANSWER + unknownField(key)) !== undefined);
			const ticked = before.filter(({ key }) => [typed(ANSWER + unknownField(key))].flat().includes('yes')).map(({ key }) => key);
			return [...ticked, ...(item.review.unknown ?? []).filter((key) => !before.some((q) => q.key === key))];
		})
	);
	const applies = $derived(whichApply(questions, given, null, dayOf(now, brand.timeZone)));
	const asked = $derived(questions.filter(({ key }) => applies.get(key) === 'yes'));
	const parts = $derived(partsOf(questions).map((part) => ({ ...part, asked: part.questions.filter((q) => applies.get(q.key) === 'yes') })));
	const inParts = $derived(openKeys === null && (questions.length > 6 || parts.length > 1));
	/** Where no scripts run all parts stand below each other, and follow-ups come with the answer that was sent. */
	let live = $state(false);
	onMount(() => (live = true));
	/** which part is shown; behind the last one all answers are looked over */
	let at = $state(0);
	onMount(() => {
		// whoever was asked for some of the answers begins there
		const wanted = passed.find(({ toReader, doneAt }) => toReader && doneAt === null)?.keys ?? [];
		at = Math.max(
			0,
			parts.findIndex(({ asked: of }) => of.some(({ key }) => wanted.includes(key)))
		);
		if (isEmpty(at)) at = firstPart;
	});
	const looking = $derived(inParts && at >= parts.length);
	const left = $derived(asked.filter(({ key, required }) => required && given[key] === undefined && !unknown.includes(key)));
	const leftHere = $derived(parts[at]?.asked.filter((q) => left.includes(q)).length ?? 0);

	function read() {
		if (!form) return;
		written = { ...shutAnswers(answers, openKeys), ...answersIn(form, questions) };
	}
	/** Parts of which nothing is asked with the answers so far are passed over. */
	const isEmpty = (part: number) => parts[part]?.asked.length === 0;
	const numberOf = (part: number) => parts.slice(0, part + 1).filter(({ asked: of }) => of.length > 0).length;
	const lastPart = $derived(parts.findLastIndex(({ asked: of }) => of.length > 0));
	const firstPart = $derived(
		Math.max(
			0,
			parts.findIndex(({ asked: of }) => of.length > 0)
		)
	);
	function step(by: 1 | -1) {
		let to = Math.min(at, parts.length) + by;
		while (to > 0 && isEmpty(to)) to += by;
		void go(Math.max(firstPart, to));
	}
	async function go(to: number) {
		at = to;
		await tick();
		const heading = document.getElementById(`${answersId}-part`);
		heading?.focus({ preventScroll: true });
		heading?.scrollIntoView({ block: 'start' });
	}
	// what was refused is shown where it stands
	const wrongAt = $derived(parts.findIndex((part) => part.questions.some(({ key }) => fields[key])));
	$effect(() => {
		if (wrongAt >= 0) untrack(() => (at = wrongAt));
	});
	const shown = (q: Question): string => {
		const answer = given[q.key];
		return answer === undefined ? '' : answerInWords(q.answer, answer, answerReader(locale));
	};
	/** what was passed on of a question, last of all */
	const passedOf = (key: string) => passed.findLast(({ keys }) => keys.includes(key));
	const labelOf = (q: Question) => (q.required ? q.title : `${q.title} (${say('item.questionnaire.optional')})`);
	const before = (key: string): TypedValue | undefined => typed(ANSWER + key);
</script>

{#snippet question(q: Question)}
	{@const knows = before(q.key) === undefined && answers[q.key] === undefined ? known[q.key] : undefined}
	<div hidden={applies.get(q.key) !== 'yes' || isShut(q.key)} inert={isShut(q.key)} class={q.under === undefined || openKeys ? '' : 'follow-up'}>
		{#if item.review.askedBack?.[q.key] && open}<p class="notice-lamp mb-2 whitespace-pre-line">{item.review.askedBack[q.key]}</p>{/if}
		{#if q.answer.is === 'file'}
			<FileAnswer
				name={q.key}
				label={labelOf(q)}
				accepts={q.answer.accepts}
				papers={item.papers.filter(({ slot }) => slot === q.key)}
				at="{home}/item/{item.id}"
				title={item.title}
				{home}
				{locale}
				open={open && !isShut(q.key)}
				wrong={fields[q.key]}
				removeForm="{answersId}-remove"
			/>
		{:else}<AnswerField
				spec={q.answer}
				name={q.key}
				label={labelOf(q)}
				value={answers[q.key] ?? knows?.answer ?? null}
				typed={before(q.key)}
				{locale}
				required={q.required}
				wrong={fields[q.key]}
			/>{/if}
		{#if q.help || q.helpText}<div class="mt-1 text-[0.88rem] text-(--half)">
				<ItemWords why={q.help} text={q.helpText ?? null} {locale} {filesAt} videos={open} />
			</div>{/if}
		{#if knows && open}<p class="mt-1 text-[0.84rem] text-(--half)">
				{knows.saidBy === null
					? say('item.questionnaire.lastTime', { date: knows.saidOn })
					: say('item.questionnaire.known', { name: knows.saidBy, date: knows.saidOn, firm: brand.name })}
			</p>{/if}
		{#if open && passedOf(q.key)}{@const of = passedOf(q.key)!}
			<p class={of.doneAt === null && of.toReader ? 'mt-1 font-semibold text-(--act)' : 'mt-1 text-[0.84rem] text-(--half)'}>
				{of.doneAt !== null
					? say('item.pass.done', { name: of.toName })
					: of.toReader
						? say('item.pass.yours', { name: of.byName })
						: say('item.pass.waits', { name: of.toName })}
			</p>
		{/if}
		{#if open && (q.required || unknown.includes(q.key) || (live && (askAbout || passOn)))}
			<div class="beside">
				{#if q.required || unknown.includes(q.key)}
					<label hidden={live && given[q.key] !== undefined}
						><input
							type="checkbox"
							name={unknownField(q.key)}
							value="yes"
							checked={unknown.includes(q.key)}
							onchange={(event) => (unknown = event.currentTarget.checked ? [...unknown, q.key] : unknown.filter((key) => key !== q.key))}
						/>
						{say(q.answer.is === 'file' ? 'item.questionnaire.notHere' : 'item.questionnaire.unknown')}</label
					>
				{/if}
				{#if live && (askAbout || passOn)}<span class="others">
						{#if passOn}<button type="button" class="ask" onclick={() => passOn(q.key)}>{say('item.pass.this')}</button>{/if}
						{#if askAbout}<button type="button" class="ask" onclick={() => askAbout(q.title)}>{say('item.questionnaire.ask')}</button>{/if}
					</span>{/if}
			</div>
		{/if}
	</div>
{/snippet}

{#snippet end()}
	<p class="mt-5 text-sm text-(--half)">{say(kept)}</p>
	<button class="act mt-2 w-full" form={answersId} disabled={pending || busy}
		>{say(busy ? 'item.questionnaire.file.coming' : signer ? 'item.sign.send' : send)}</button
	>
{/snippet}

<form
	method="post"
	id={answersId}
	{action}
	class="mt-4"
	novalidate
	bind:this={form}
	oninput={read}
	onchange={read}
	{@attach enhancedForm(handling)}
	{@attach keeping(ANSWER)}
	inert={!open}
>
	{#each parts as part, i (i)}
		<section
			hidden={(live && open && inParts && i !== at) || (openKeys !== null && open && part.asked.every(({ key }) => isShut(key)))}
			class="space-y-5"
			class:mt-6={i > 0 && !(live && open)}
		>
			{#if inParts && open}
				<p class="text-[0.86rem] text-(--half)">
					{say('item.questionnaire.part', { part: numberOf(i), parts: numberOf(parts.length - 1) })}
					{#if live}· {say('item.questionnaire.left', { count: leftHere, minutes: minutesOf(left.length > 0 ? left : asked.slice(0, 1)) })}{/if}
				</p>
			{/if}
			{#if part.title}<h2 id={i === at ? `${answersId}-part` : undefined} tabindex="-1" class="!mt-1 text-[1.2rem] outline-none">
					{part.title}
				</h2>{/if}
			{#each part.questions as q (q.key)}{@render question(q)}{/each}
		</section>
	{/each}
	{#if live && open && looking}
		<section>
			<h2 id="{answersId}-part" tabindex="-1" class="text-[1.2rem] outline-none">{say('item.questionnaire.look')}</h2>
			<ul class="mt-2">
				{#each parts as part, i (i)}{#each part.asked as q (q.key)}
						<li class="flex items-start justify-between gap-3 border-b border-(--rule) py-2">
							<div class="min-w-0">
								<p class="text-[0.88rem] text-(--half)">{q.title}</p>
								<p class="font-semibold break-words whitespace-pre-line">
									{#if given[q.key] === undefined && unknown.includes(q.key)}<span class="font-normal"
											>{say(q.answer.is === 'file' ? 'item.questionnaire.notHere' : 'item.questionnaire.unknown')}</span
										>{:else if given[q.key] === undefined}<span class="font-normal {q.required ? 'text-(--wrong)' : 'text-(--half)'}"
											>{say(q.required ? 'item.questionnaire.missing' : 'item.questionnaire.none')}</span
										>{:else}{shown(q)}{/if}
								</p>
							</div>
							<button type="button" class="act-link" aria-label="{say('item.questionnaire.change')}: {q.title}" onclick={() => go(i)}
								>{say('item.questionnaire.change')}</button
							>
						</li>
					{/each}{/each}
			</ul>
		</section>
	{/if}
	{@render last?.(!live || !inParts || looking)}
	{#if open}
		{#if live && inParts && !looking}
			<button type="button" class="act mt-6 w-full" onclick={() => step(1)}
				>{say(at >= lastPart ? 'item.questionnaire.look' : 'item.questionnaire.next')}</button
			>
		{:else if !withFiles && !signer}{@render end()}{/if}
		{#if live && inParts && at > firstPart}<button type="button" class="act-quiet mt-2 w-full" onclick={() => step(-1)}
				>{say('item.questionnaire.back')}</button
			>{/if}
	{/if}
</form>
{#if wantsFiles.length > 0 && open}
	<form id="{answersId}-remove" method="post" action="?/removePaper" hidden {@attach enhancedForm({ onProblem })}></form>
	{#if !live && !withFiles}<div class="without-scripts mt-6">
			<PaperUpload itemId={item.id} title={item.title} papers={item.papers} slots={slotsPlain} handsIn={false} {locale} {home} onProblem={() => {}} />
		</div>{/if}
{/if}
{#if !open && item.answerData}<p class="mt-5">
		<a class="act-link" href="{home}/item/{item.id}/pdf" target="_blank" rel="noopener">{say('item.questionnaire.pdf')}</a>
	</p>{/if}
{#if openKeys && open}
	<details class="mt-6">
		<summary class="act-link cursor-pointer">{say('item.questionnaire.rest')}</summary>
		<dl class="mt-2">
			{#each asked.filter(({ key }) => isShut(key)) as q (q.key)}<div class="border-b border-(--rule) py-2">
					<dt class="text-[0.88rem] text-(--half)">{q.title}</dt>
					<dd class="break-words whitespace-pre-line">{shown(q)}</dd>
				</div>{/each}
		</dl>
	</details>
{/if}
{#if withFiles}
	{#if open && (!inParts || looking || !live)}
		<h2 class="mt-6 text-[1.1rem]">{say('item.own.files')}</h2>
		<PaperUpload
			itemId={item.id}
			title={item.title}
			papers={item.papers.filter(({ slot }) => slot === null)}
			slots={live ? [] : slotsPlain}
			handsIn={false}
			{locale}
			{home}
			onProblem={(message) => onProblem({ message, fields: {} })}
		/>
		{#if !signer}{@render end()}{/if}
	{:else if !open && item.papers.some(({ slot }) => slot === null)}<AddedFiles
			papers={item.papers.filter(({ slot }) => slot === null)}
			{home}
			{locale}
		/>{/if}
{/if}

{#if signer && open && (!inParts || looking || !live)}
	{#if signer.isReader}
		<div class="mt-6 space-y-4 border-t border-(--rule-strong) pt-4">
			<p class="text-(--half)">{say('item.sign.lead', { firm: brand.name })}</p>
			<SignaturePlace
				form={answersId}
				prefix="sign."
				{locale}
				personName={signer.name}
				consent={say('item.sign.consent')}
				alive={live}
				wrong={fields}
			/>
		</div>
		{@render end()}
	{:else}<p class="notice-lamp mt-5">{say('item.sign.other', { name: signer.name })}</p>{/if}
{/if}

<style>
	/* there for whoever needs it, and no more than that */
	.ask {
		min-height: 40px;
		text-decoration: underline dotted;
		text-underline-offset: 3px;
	}
	.others {
		display: flex;
		gap: 1rem;
		margin-left: auto;
	}
	.beside {
		display: flex;
		flex-wrap: wrap;
		align-items: center;
		justify-content: space-between;
		column-gap: 1rem;
		margin-bottom: -0.6rem;
		font-size: 0.8rem;
		color: var(--half);
	}
	.beside :global(label) {
		display: flex;
		align-items: center;
		gap: 0.5rem;
		min-height: 2.75rem;
	}
	.beside :global(label[hidden]) {
		display: none;
	}
	/* hangs on the question above it */
	.follow-up {
		margin-left: 0.25rem;
		padding-left: 0.9rem;
		border-left: 2px solid var(--act);
	}
	[hidden] {
		display: none;
	}
	.without-scripts {
		display: none;
	}
	@media (scripting: none) {
		.without-scripts {
			display: block;
		}
	}
</style>
