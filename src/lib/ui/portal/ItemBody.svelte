<script lang="ts">
	import { answerInWords, type Answer } from '$lib/core/requests/answers';
	import type { Answers, ItemSpec } from '$lib/core/requests/item-kinds';
	import { filesBeside } from '$lib/core/requests/files-beside';
	import { isOpen } from '$lib/core/requests/item-states';
	import type { ItemLine } from '$lib/server/requests/read-requests';
	import type { Remark } from '$lib/server/requests/remarks';
	import { answerReader } from '$lib/words/answers';
	import { dateWords, sizeWords, timeWords } from '$lib/words/dates';
	import { sayer } from '$lib/words/words';
	import { enhancedForm } from '../enhanced-form';
	import PaperUpload from '../PaperUpload.svelte';
	import AnswerField from './AnswerField.svelte';
	import FilesToApprove from './FilesToApprove.svelte';
	import ItemWords from './ItemWords.svelte';
	import TransactionLines from './TransactionLines.svelte';
	import Unfold from './Unfold.svelte';
	import { ANSWER, type TypedValue } from '$lib/core/requests/typed';
	import type { TypedKeeper } from './keep-typed.svelte';
	import type { Attachment } from 'svelte/attachments';

	/** What a client does with one item, by its kind: everything but letters, which are read and signed. */
	let {
		item,
		remarks,
		locale,
		brand,
		home,
		filesAt,
		later,
		now,
		closed,
		onProblem,
		fields,
		kept = null,
		typed = () => undefined,
		refused = null
	}: {
		item: Omit<ItemLine, 'nextChaseOn'> & { mayGoOn?: boolean };
		remarks: Remark[];
		locale: string;
		brand: { name: string; timeZone: string };
		home: string;
		/** address under which the firm's files are found */ filesAt: string;
		/** between which days they may ask for time */ later: { from: string; to: string };
		now: string;
		closed: boolean;
		onProblem: (problem: { message: string; fields: Record<string, string> }) => void;
		/** what is wrong with which field */ fields: Record<string, string>;
		/** keeps what is typed; null where the page is only a preview */ kept?: TypedKeeper | null;
		/** what was typed into a field and not sent */ typed?: (name: string) => TypedValue | undefined;
		/** the act that was refused, where no scripts run */ refused?: string | null;
	} = $props();
	const keeping = (prefix: string): Attachment<HTMLFormElement> | undefined => kept?.form(prefix);
	const words = (name: string) => String(typed(name) ?? '');
	const say = $derived(sayer(locale));
	const open = $derived((isOpen(item.state) || item.state === 'answered_no') && !closed);
	let pending = $state(false);
	const missing = $derived(
		item.kind === 'paper'
			? ((item.spec as unknown as ItemSpec<'paper'>).slots ?? []).filter((slot) => !item.papers.some((paper) => paper.slot === slot.name))
			: []
	);
	const handling = { onPending: (p: boolean) => (pending = p), onProblem: (p: { message: string; fields: Record<string, string> }) => onProblem(p) };
	const firmShort = $derived(brand.name.split(' ').slice(0, 2).join(' '));
	const time = (at: string) => timeWords(locale, at, brand.timeZone);
	const question = $derived(item.spec as unknown as ItemSpec<'question'>);
	const questions = $derived((item.spec as unknown as ItemSpec<'questionnaire'>).questions ?? []);
	/** files of the firm; pictures stand in its words */
	const beside = $derived(filesBeside(item));
	const withFiles = $derived((item.spec as unknown as ItemSpec<'questionnaire'>).files === true);
	const goOn = $derived(item.mayGoOn === true && !closed);
	const answersId = $props.id();
	/** the firm's time zone as people say it, such as “Halifax, Atlantic time” */
	const zoneWords = $derived(
		new Intl.DateTimeFormat(locale, { timeZone: brand.timeZone, timeZoneName: 'longGeneric' })
			.formatToParts(new Date(now))
			.find((part) => part.type === 'timeZoneName')?.value ?? brand.timeZone
	);
	const answers = $derived((item.answerData ?? {}) as Answers);
	const read = $derived(item.spec as unknown as ItemSpec<'read'>);
	const book = $derived(item.spec as unknown as ItemSpec<'book'>);
	const access = $derived(item.spec as unknown as ItemSpec<'access'>);
	const times = $derived((book.times ?? []).filter((at) => at > now));
	const verdict = $derived(item.answerData as { agrees: boolean; words: string | null } | null);
</script>

{#snippet given(label: string, text: string)}
	<p class="mt-4 text-sm text-(--half)">{label}</p>
	<blockquote class="mt-1 border-l-4 border-(--rule-strong) pl-3 break-words whitespace-pre-wrap">{text}</blockquote>
{/snippet}

{#snippet file(paper: ItemLine['papers'][number])}
	<li class="flex items-center gap-3 border-b border-(--rule-strong) py-2">
		<a class="act-link min-w-0 flex-1 !block truncate !leading-[44px]" href="{home}/papers/{paper.id}?download" download>{paper.name}</a><span
			class="text-sm text-(--half)">{sizeWords(locale, paper.bytes)}</span
		>
	</li>
{/snippet}

{#if item.raised && open && item.state !== 'sent_back'}<p class="notice-lamp mt-3">{say('item.own.lead', { firm: brand.name })}</p>{/if}
{#if beside.length > 0 && item.kind !== 'approve'}
	<ul class="mt-4" aria-label={say('item.files')}>
		{#each beside as file (file.id)}<li class="flex items-center gap-3 border-b border-(--rule-strong)">
				<a class="act-link min-w-0 flex-1 !block truncate !leading-[44px]" href="{filesAt}/{file.id}" target="_blank" rel="noopener">{file.name}</a
				><span class="text-sm whitespace-nowrap text-(--half)">{sizeWords(locale, file.bytes)}</span>
			</li>{/each}
	</ul>
{/if}

{#if item.kind === 'paper'}
	{#if open}
		{#key item.id}<PaperUpload
				itemId={item.id}
				title={item.title}
				papers={item.papers}
				slots={(item.spec as unknown as ItemSpec<'paper'>).slots ?? []}
				missing={missing.map((slot) => slot.name)}
				{locale}
				{home}
				onProblem={(message) => onProblem({ message, fields: {} })}
			/>{/key}
	{:else}
		<ul class="mt-4" aria-label={say('item.paper.list')}>
			{#each item.papers as paper (paper.id)}{@render file(paper)}{/each}
		</ul>
	{/if}
{:else if item.kind === 'transactions'}
	{#key item.id}<TransactionLines {item} {locale} {home} {open} {onProblem} />{/key}
{:else if item.kind === 'question'}
	{#if open}
		<form method="post" action="?/answer" class="mt-4 space-y-3" {@attach enhancedForm(handling)} {@attach keeping(ANSWER)}>
			<AnswerField
				spec={question.answer}
				name="answer"
				label={question.answer.is === 'words'
					? say('item.question.label')
					: question.answer.is === 'number'
						? say('item.number', { unit: question.answer.unit || 'none' })
						: question.answer.is === 'money'
							? say('item.question.label')
							: question.answer.is === 'date'
								? say('item.date')
								: question.answer.is === 'several_of'
									? say('item.question.several')
									: say('item.question.choose')}
				value={(item.answerData as Answer | null) ?? null}
				words={item.answer ?? ''}
				typed={typed(ANSWER + 'answer')}
				{locale}
				required
				wrong={fields.answer}
			/>
			<button class="act w-full" disabled={pending}>{say('item.question.handIn')}</button>
		</form>
	{:else if item.answerData !== null}{@render given(
			say('item.question.given'),
			answerInWords(question.answer, item.answerData as Answer, answerReader(locale))
		)}{/if}
{:else if item.kind === 'questionnaire'}
	<form
		method="post"
		id={answersId}
		action="?/answers"
		class="mt-4 space-y-5"
		novalidate
		{@attach enhancedForm(handling)}
		{@attach keeping(ANSWER)}
		inert={!open}
	>
		{#each questions as q (q.key)}
			<div>
				<AnswerField
					spec={q.answer}
					name={q.key}
					label="{q.title}{q.required ? '' : ` (${say('item.optional').toLowerCase()})`}"
					value={answers[q.key] ?? null}
					typed={typed(ANSWER + q.key)}
					{locale}
					required={q.required}
					wrong={fields[q.key]}
				/>
				{#if q.help}<p class="mt-1 text-[0.88rem] text-(--half)">{q.help}</p>{/if}
			</div>
		{/each}
		{#if open && !withFiles}
			<p class="text-sm text-(--half)">{say('item.questionnaire.kept')}</p>
			<button class="act w-full" disabled={pending}>{say('item.questionnaire.handIn')}</button>
		{/if}
	</form>
	{#if withFiles}
		{#if open}
			<h2 class="mt-6 text-[1.1rem]">{say('item.own.files')}</h2>
			{#key item.id}<PaperUpload
					itemId={item.id}
					title={item.title}
					papers={item.papers}
					handsIn={false}
					{locale}
					{home}
					onProblem={(message) => onProblem({ message, fields: {} })}
				/>{/key}
			<p class="mt-4 text-sm text-(--half)">{say('item.questionnaire.kept')}</p>
			<button class="act mt-2 w-full" form={answersId} disabled={pending}>{say('item.questionnaire.handIn')}</button>
		{:else if item.papers.length > 0}
			<ul class="mt-4" aria-label={say('item.paper.list')}>
				{#each item.papers as paper (paper.id)}{@render file(paper)}{/each}
			</ul>
		{/if}
	{/if}
{:else if item.kind === 'read' || item.kind === 'do'}
	{#if item.kind === 'read' && read.link}<p class="mt-3">
			<a class="act-link" href={read.link} target="_blank" rel="noopener noreferrer external"
				>{say('item.read.link')}: {new URL(read.link).hostname}</a
			>
		</p>{/if}
	{#if open}
		<form method="post" action="?/confirm" class="mt-5" {@attach enhancedForm(handling)}>
			<button class="act w-full" disabled={pending}>{say(item.kind === 'read' ? 'item.read.confirm' : 'item.do.confirm')}</button>
		</form>
	{/if}
{:else if item.kind === 'approve'}
	<FilesToApprove {item} {filesAt} {remarks} {locale} pinAt={open ? '?/pin' : null} firstPages />
	{#if open}
		<div class="mt-4 space-y-3">
			<form method="post" action="?/approve" {@attach enhancedForm(handling)}>
				<input type="hidden" name="agrees" value="yes" /><button class="act w-full" disabled={pending}>{say('item.approve.agree')}</button>
			</form>
			<Unfold words={say('item.approve.change')} quiet open={refused === 'approve' || Boolean(words('change.words'))}>
				{#snippet children(close)}
					<form method="post" action="?/approve" class="mt-3 space-y-3" {@attach enhancedForm(handling)} {@attach keeping('change.')}>
						<input type="hidden" name="agrees" value="no" />
						<label class="field"
							><span>{say('item.approve.how')}</span><textarea
								name="words"
								rows="3"
								maxlength="4000"
								value={words('change.words')}
								aria-invalid={fields.words ? 'true' : undefined}></textarea></label
						>
						<div class="flex flex-wrap gap-2">
							<button class="act" disabled={pending}>{say('item.approve.send', { firm: firmShort })}</button>
							<button type="button" class="act-quiet" onclick={close}>{say('item.no.cancel')}</button>
						</div>
					</form>
				{/snippet}
			</Unfold>
		</div>
	{:else if verdict}
		<p class="mt-4">{verdict.agrees ? say('item.approve.agreed') : say('item.approve.changed', { words: verdict.words ?? 'none' })}</p>
	{/if}
{:else if item.kind === 'book'}
	{#if open}
		{#if times.length > 0}
			<form method="post" action="?/book" class="mt-4" {@attach enhancedForm(handling)}>
				<fieldset>
					<legend class="field-label !text-[0.92rem]"
						>{say('item.book.choose')}: {say('item.book.minutes', { minutes: book.minutes, where: book.where || 'none' })}</legend
					>
					<div class="space-y-2">
						{#each times as at (at)}<label class="time"><input type="radio" name="time" value={at} required /> <span>{time(at)}</span></label>{/each}
					</div>
				</fieldset>
				<button class="act mt-3 w-full" disabled={pending}>{say('item.book.take')}</button>
				<p class="mt-2 text-sm text-(--half)">{say('item.book.zone', { zone: zoneWords })} {say('item.book.none')}</p>
			</form>
		{:else if (book.times ?? []).length > 0}<p class="notice-lamp mt-4">{say('item.book.gone')}</p>{/if}
		{#if book.link}
			<p class="mt-3">
				<a class="act {times.length > 0 ? 'act-second' : ''} w-full" href={book.link} target="_blank" rel="noopener noreferrer external"
					>{say('item.book.link')}</a
				>
			</p>
			<form method="post" action="?/book" class="mt-2" {@attach enhancedForm(handling)}>
				<button class="act-quiet w-full" disabled={pending}>{say('item.book.booked')}</button>
			</form>
		{/if}
	{:else if item.answer}{@render given(
			say('item.answer.given'),
			(item.answerData as { time?: string } | null)?.time ? time((item.answerData as { time: string }).time) : item.answer
		)}
		{#if (item.answerData as { time?: string } | null)?.time}<p class="mt-2 text-sm text-(--half)">{say('item.book.zone', { zone: zoneWords })}</p>
			<a class="act-quiet mt-3 w-full" href="{home}/item/{item.id}/calendar" download>{say('item.book.calendar')}</a>{/if}{/if}
{:else if item.kind === 'access'}
	<dl class="facts mt-4">
		<div>
			<dt>{access.system}</dt>
			<dd>
				{#if access.invite}{say('item.access.invite')} <b class="break-words">{access.invite}</b>{/if}
			</dd>
		</div>
	</dl>
	{#if open}
		<form method="post" action="?/access" class="mt-4" {@attach enhancedForm(handling)}>
			<button class="act w-full" disabled={pending}>{say('item.access.done')}</button>
		</form>
		{#if access.secret}
			<Unfold words="{say('item.access.secret')} …">
				<form method="post" action="?/access" class="mt-2 space-y-2" autocomplete="off" data-not-kept {@attach enhancedForm(handling)}>
					<label class="field"
						><span>{say('item.access.secret')}</span><input
							name="secret"
							maxlength="500"
							required
							autocomplete="off"
							spellcheck="false"
							aria-describedby="secret-hint"
						/></label
					>
					<p id="secret-hint" class="text-sm text-(--half)">{say('item.access.secret.hint')}</p>
					<button class="act-quiet w-full" disabled={pending}>{say('item.access.secret.give', { firm: firmShort })}</button>
				</form>
			</Unfold>
		{/if}
	{/if}
{/if}

{#if item.raised && isOpen(item.state) && item.state !== 'sent_back' && !closed}
	<form method="post" action="?/takeBack" class="mt-4" {@attach enhancedForm(handling)}>
		<button class="act-link" disabled={pending}>{say('item.own.takeBack')}</button>
	</form>
{:else if isOpen(item.state) && !closed}
	<div class="mt-4 border-t border-(--rule-strong) pt-2">
		{@render other('no', say('item.no.open'))}
		{@render other('later', say('item.later.open'))}
		{#if item.kind === 'paper'}{@render other('sent', say('item.sent.open'))}{/if}
	</div>
{/if}
{#if goOn}
	<form method="post" action="?/goOn" class="mt-4" {@attach enhancedForm(handling)}>
		{#if item.kind !== 'book'}<p class="text-sm text-(--half)">{say('item.goOn.lead', { firm: brand.name })}</p>{/if}
		<button class="act-quiet mt-2 w-full" disabled={pending}
			>{say(item.kind === 'paper' ? 'item.goOn.paper' : item.kind === 'book' ? 'item.goOn.book' : 'item.goOn.answer')}</button
		>
	</form>
{/if}
{#snippet other(what: 'no' | 'later' | 'sent', opener: string)}
	{@const name = what === 'later' ? 'later.until' : (`${what}.reason` as const)}
	<Unfold words={opener} group="other-{item.id}" open={refused === what || Boolean(words(name))}>
		{#snippet children(close)}
			<form method="post" action="?/{what}" class="space-y-3 pb-4" {@attach enhancedForm(handling)} {@attach keeping(`${what}.`)}>
				{#if what === 'later'}
					<label class="field"
						><span>{say('item.later.until')}</span><input
							type="date"
							name="until"
							min={later.from}
							max={later.to}
							value={words(name)}
							required
							aria-describedby="later-hint"
						/></label
					>
					<p id="later-hint" class="text-sm text-(--half)">{say('item.later.hint', { firm: brand.name })}</p>
				{:else}
					<label class="field"
						><span>{say(what === 'no' ? 'item.no.label' : 'item.sent.label')}</span><textarea
							name="reason"
							rows="3"
							maxlength="1000"
							value={words(name)}
							required
							aria-describedby="{what}-hint"></textarea></label
					>
					<p id="{what}-hint" class="text-sm text-(--half)">{say(what === 'no' ? 'item.no.hint' : 'item.sent.hint', { firm: brand.name })}</p>
				{/if}
				<div class="flex gap-2">
					<button class="act" disabled={pending}
						>{what === 'no'
							? say('item.no.send', { firm: firmShort })
							: what === 'later'
								? say('item.later.send')
								: say('item.sent.send', { firm: firmShort })}</button
					><button type="button" class="act-quiet" onclick={close}>{say('item.no.cancel')}</button>
				</div>
			</form>
		{/snippet}
	</Unfold>
{/snippet}
{#if (item.why || item.text) && !open && item.kind !== 'paper'}<div class="mt-4 text-(--half)">
		<ItemWords why={item.why ?? ''} text={item.text} {locale} {filesAt} videos={false} />
	</div>{/if}
{#if item.askedTimeUntil && open}<p class="mt-2 text-sm text-(--half)">
		{say('item.later.until')}: {dateWords(locale, item.askedTimeUntil, 'long')}
	</p>{/if}

<style>
	.time {
		display: flex;
		align-items: center;
		gap: 0.75rem;
		min-height: 48px;
		padding: 0.4rem 0.9rem;
		border: 1px solid var(--rule-strong);
		border-radius: 6px;
		background: #fffefb;
		cursor: pointer;
	}
	.time:has(:checked) {
		border-color: var(--act);
		box-shadow: inset 0 0 0 1px var(--act);
	}
	.time input {
		accent-color: var(--act);
	}
</style>
