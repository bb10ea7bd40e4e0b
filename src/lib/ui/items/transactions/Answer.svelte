<script lang="ts">
	import { onMount, tick, untrack } from 'svelte';
	import { page } from '$app/state';
	import { copiesOf } from '../../forms/typed-copies';
	import { invalidateAll } from '$app/navigation';
	import {
		givenAnswer,
		statementLineAnswerInWords,
		openStatementLines,
		type StatementLineAnswer
	} from '$lib/core/transactions/statement-line-answers';
	import { amountWords } from '$lib/words/amounts';
	import { dateWords } from '$lib/words/dates';
	import { sayer } from '$lib/words/words';
	import { enhancedForm } from '../../forms/enhanced-form';
	import type { AnswerProps } from '../answer';
	import { uploadPaper } from '../../papers/upload-paper';

	/** Questions about transactions: one line after the other, each answer kept as it comes. */
	let { item, locale, home, open, onProblem }: AnswerProps<'transactions'> = $props();
	const say = $derived(sayer(locale));
	const { spec } = $derived(item);
	const answers = $derived(item.answerData ?? {});
	const left = $derived(openStatementLines(spec.lines, answers, item.papers));
	const accounts = $derived(new Set(spec.lines.map((line) => line.account)).size > 1);
	/** the line that is being answered; the first open one, until somebody chooses another */
	let current = $state(untrack(() => left[0]?.id ?? null));
	let pending = $state(false);
	/** why it could not be handed in, told where it was tried */
	let unfinished = $state('');
	let adding = $state<{ lineId: string; name: string } | null>(null);
	let list = $state<HTMLElement>();

	const answerWords = (answer: StatementLineAnswer) =>
		answer.how === 'personal'
			? [say('item.lines.personal'), answer.words].filter(Boolean).join(': ')
			: answer.how === 'unknown'
				? [say('item.lines.unknown'), answer.words].filter(Boolean).join(': ')
				: answer.how === 'no_paper'
					? [say('item.lines.noPaper'), answer.words].filter(Boolean).join(': ')
					: statementLineAnswerInWords(answer, []);
	const files = (lineId: string) => item.papers.filter((paper) => paper.slot === lineId);

	/** what could not be sent yet stays on this device */
	const copies = untrack(() =>
		typeof localStorage === 'undefined' ? null : copiesOf(`${(page.data.person as { id: string } | undefined)?.id} lines ${item.id}`)
	);
	/** what is typed of each line and not sent yet; begun here or elsewhere */
	const typed = $state<Record<string, string>>(
		untrack(() => Object.fromEntries(Object.entries(answers).flatMap(([id, answer]) => (answer.typing ? [[id, answer.words]] : []))))
	);
	onMount(() => {
		for (const { name, value } of copies?.all() ?? []) keep(name, String(value));
	});
	let timer: ReturnType<typeof setTimeout> | undefined;
	let unsent: { lineId: string; words: string } | null = null;
	/** Keeps what is typed, so that it can be gone on with elsewhere. */
	function keep(lineId: string, words: string) {
		if (unsent && unsent.lineId !== lineId) send();
		typed[lineId] = words;
		copies?.keep(lineId, words);
		unsent = { lineId, words };
		clearTimeout(timer);
		timer = setTimeout(send, 900);
	}
	function send() {
		clearTimeout(timer);
		if (!unsent) return;
		const { lineId, words } = unsent;
		unsent = null;
		const body = new FormData();
		body.set('lineId', lineId);
		body.set('words', words);
		void fetch(`${home}/item/${item.id}?/keepLine`, {
			method: 'POST',
			body,
			keepalive: true,
			headers: { 'x-sveltekit-action': 'true' }
		}).then(
			(answer) => answer.ok && copies?.drop(lineId, words),
			() => (unsent ??= { lineId, words })
		);
	}
	// at the latest when the page is left or hidden
	$effect(() => send);

	/** Opens the line after an answer: the next open one below, else the first. */
	async function goOn(from: string) {
		// what was answered just now has to have reached this page
		await tick();
		const at = spec.lines.findIndex((line) => line.id === from);
		const next = spec.lines.slice(at + 1).find((line) => left.some((one) => one.id === line.id)) ?? left[0];
		current = next?.id ?? null;
		await tick();
		const target = list?.querySelector<HTMLElement>('[data-current]') ?? list?.querySelector<HTMLElement>('[data-finish]');
		target?.focus({ preventScroll: true });
		target?.scrollIntoView({ block: 'nearest', behavior: matchMedia('(prefers-reduced-motion: reduce)').matches ? 'auto' : 'smooth' });
	}
	const handling = (lineId: string) => ({
		onPending: (p: boolean) => {
			pending = p;
			// what is sent now needs not be kept
			clearTimeout(timer);
			unsent = null;
		},
		onProblem,
		onSuccess: async () => {
			copies?.drop(lineId);
			onProblem({ message: '', fields: {} });
			await invalidateAll();
			await goOn(lineId);
		}
	});
	async function add(lineId: string, chosen: FileList | null) {
		for (const file of chosen ?? []) {
			adding = { lineId, name: file.name };
			const refused = await uploadPaper(`${home}/item/${item.id}`, file, lineId).done;
			if (refused) {
				onProblem({ message: refused.problem || say('item.paper.lost'), fields: {} });
				adding = null;
				return;
			}
		}
		adding = null;
		onProblem({ message: '', fields: {} });
		await invalidateAll();
		await goOn(lineId);
	}
</script>

<svelte:window onpagehide={send} />
<svelte:document onvisibilitychange={() => document.visibilityState === 'hidden' && send()} />

<div bind:this={list} data-kept>
	<div class="progress" aria-hidden="true"><i style="width: {(100 * (spec.lines.length - left.length)) / spec.lines.length}%"></i></div>
	<p class="mt-1 text-[0.92rem] text-(--half)" role="status">
		{say('item.lines.progress', { done: spec.lines.length - left.length, all: spec.lines.length })}
	</p>
	<ol class="mt-2 border-t border-(--rule-strong)" aria-label={say('item.lines.list')}>
		{#each spec.lines as line (line.id)}
			{@const answer = givenAnswer(answers, line.id)}
			{@const own = files(line.id)}
			{@const answered = Boolean(answer) || own.length > 0}
			<li class="border-b border-(--rule-strong) py-2.5" class:now={open && current === line.id}>
				<div class="flex items-baseline justify-between gap-3" tabindex="-1" data-current={open && current === line.id ? '' : undefined}>
					<span class="min-w-0">
						<b class="break-words" class:!font-normal={answered && current !== line.id}>{line.who || line.words || line.account}</b>
						{#if line.who && line.words}<span class="block text-[0.9rem] break-words text-(--half)">{line.words}</span>{/if}
						<span class="block text-[0.9rem] text-(--half)"
							>{dateWords(locale, line.day, 'withYear')}{accounts && line.account ? ` · ${line.account}` : ''}</span
						>
					</span>
					<span class="text-right whitespace-nowrap tabular-nums"
						><b>{amountWords(locale, line.amount, line.currency)}</b><span class="block text-[0.85rem] text-(--half)"
							>{say(line.amount.startsWith('-') ? 'item.lines.out' : 'item.lines.in')}</span
						></span
					>
				</div>
				{#if answered}
					<div class="mt-1 border-l-4 border-(--rule-strong) pl-2.5 text-[0.95rem] break-words">
						{#if answer}{answerWords(answer)}{/if}
						{#each own as paper (paper.id)}<div class="flex items-baseline gap-3">
								<a class="act-link min-w-0 truncate" href="{home}/papers/{paper.id}?download" download>{paper.name}</a>
								{#if open && current === line.id}<form method="post" action="?/removePaper" {@attach enhancedForm({ onProblem })}>
										<input type="hidden" name="paperId" value={paper.id} /><button class="act-link"
											>{say('item.paper.remove', { name: paper.name })}</button
										>
									</form>{/if}
							</div>{/each}
					</div>
				{/if}
				{#if open && current !== line.id}
					{@const words = answered ? say('item.lines.change') : say(spec.asks === 'paper' ? 'item.lines.howPaper' : 'item.lines.how')}
					<button type="button" class="act-link" aria-label="{words}: {line.who || line.words}" onclick={() => (current = line.id)}>{words}</button>
				{:else if open}
					<div class="mt-2 space-y-2.5">
						{#if spec.asks === 'paper'}{@render file(line.id, true)}{/if}
						<form method="post" action="?/answerStatementLine" class="space-y-2.5" {@attach enhancedForm(handling(line.id))}>
							<input type="hidden" name="lineId" value={line.id} />
							<!-- Enter in a field presses the first button: it must be the one that keeps the words -->
							<button class="sr-only" name="how" value="words" tabindex="-1" aria-hidden="true">{say('item.lines.save')}</button>
							<div class="grid grid-cols-2 gap-2">
								{#each spec.choices as choice (choice)}<button
										class="pick"
										name="choice"
										value={choice}
										aria-pressed={answer?.how === 'choice' && answer.words === choice}
										disabled={pending}>{choice}</button
									>{/each}
								{#if spec.asks === 'paper'}<button
										class="pick"
										name="how"
										value="no_paper"
										aria-pressed={answer?.how === 'no_paper'}
										disabled={pending}>{say('item.lines.noPaper')}</button
									>{/if}
								<button class="pick" name="how" value="personal" aria-pressed={answer?.how === 'personal'} disabled={pending}
									>{say('item.lines.personal')}</button
								>
								<button class="pick" name="how" value="unknown" aria-pressed={answer?.how === 'unknown'} disabled={pending}
									>{say('item.lines.unknown')}</button
								>
							</div>
							<label class="field own"
								><span>{say('item.lines.words')}</span><input
									name="words"
									maxlength="2000"
									autocomplete="off"
									enterkeyhint="next"
									placeholder=" "
									value={answer ? (answer.how === 'choice' ? '' : answer.words) : (typed[line.id] ?? '')}
									oninput={(event) => !answer && keep(line.id, event.currentTarget.value)}
								/></label
							>
							<button class="act-quiet w-full" name="how" value="words" disabled={pending}>{say('item.lines.save')}</button>
						</form>
						{#if spec.asks !== 'paper'}{@render file(line.id, false)}{/if}
					</div>
				{/if}
			</li>
		{/each}
	</ol>
	{#if open}
		<p class="mt-3 text-sm text-(--half)">{say('item.lines.kept')}</p>
		<form
			method="post"
			action="?/handIn"
			class="mt-3"
			{@attach enhancedForm({ onPending: (p) => (pending = p), onProblem: (p) => (unfinished = p.message) })}
		>
			{#if unfinished && left.length > 0}<p class="notice-wrong mb-3" role="alert">
					{unfinished}
					<button type="button" class="act-link" onclick={() => goOn(spec.lines.at(-1)!.id)}>{say('item.lines.next')}</button>
				</p>{/if}
			<button class="act w-full" class:act-second={left.length > 0} data-finish disabled={pending}>{say('item.lines.finish')}</button>
		</form>
	{/if}
</div>

{#snippet file(lineId: string, first: boolean)}
	{#if adding?.lineId === lineId}<p class="text-[0.92rem]" role="status">{say('item.lines.adding', { name: adding.name })}</p>
	{:else}
		<label class={['file w-full', first ? 'act' : 'act-quiet']}
			><input
				type="file"
				class="sr-only"
				multiple
				onchange={(event) => {
					void add(lineId, event.currentTarget.files);
					event.currentTarget.value = '';
				}}
			/>{say('item.lines.file')}</label
		>
	{/if}
{/snippet}

<style>
	.progress {
		height: 6px;
		margin-top: 0.9rem;
		background: var(--rule-strong);
		border-radius: 3px;
		overflow: hidden;
	}
	.progress i {
		display: block;
		height: 100%;
		background: var(--act);
		transition: width 0.25s;
	}
	.now {
		background: #fffefb;
		margin-inline: -0.6rem;
		padding-inline: 0.6rem;
		box-shadow: inset 4px 0 0 var(--act);
	}
	.pick {
		min-height: 44px;
		padding: 0.35rem 0.85rem;
		border: 1px solid var(--rule-strong);
		border-radius: 6px;
		background: #fffefb;
		cursor: pointer;
		text-align: left;
	}
	.pick[aria-pressed='true'] {
		border-color: var(--act);
		box-shadow: inset 0 0 0 1px var(--act);
	}
	.file:has(:focus-visible) {
		outline: 3px solid var(--ink);
		outline-offset: 2px;
	}
	/* there is nothing to keep until something is written */
	.own:has(input:placeholder-shown) + button {
		display: none;
	}
	@media (prefers-reduced-motion: reduce) {
		.progress i {
			transition: none;
		}
	}
</style>
