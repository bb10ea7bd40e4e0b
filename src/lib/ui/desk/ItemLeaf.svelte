<script lang="ts">
	import { eventSentence } from '$lib/core/audit/event-words';
	import { addDays } from '$lib/core/calendar/firm-calendar';
	import { soonerInWords } from '$lib/core/chasing/sooner';
	import { shownAs } from '$lib/core/papers/file-name';
	import { ITEM_KINDS } from '$lib/core/items/item-kinds';
	import { isOpen, isSettled, ITEM_STATE_WORDS, itemMovesFrom } from '$lib/core/requests/item-states';
	import { filesBeside } from '$lib/core/requests/files-beside';
	import { daysLate } from '$lib/core/requests/lateness';
	import { dateWords, sizeWords, timeWords } from '$lib/words/dates';
	import type { ItemLeafData } from '$lib/server/rounds/item-leaf';
	import SoonerChoice from './SoonerChoice.svelte';
	import TextChoice from '../library/TextChoice.svelte';
	import { enhancedForm } from '../forms/enhanced-form';
	import ItemConversation from '../asking/ItemConversation.svelte';
	import FillIn from '../asking/FillIn.svelte';
	import Countersign from '../asking/Countersign.svelte';
	import { askDesk } from './ask-desk';
	import { deskSideOf } from '../items/desk-side';
	import { keepOnDevice } from '../forms/keep-on-device';
	import { leafKeys } from './leaf-keys';
	import PaperView from '../papers/PaperView.svelte';

	let {
		leaf,
		timeZone,
		person,
		next = null,
		begin = null
	}: {
		leaf: ItemLeafData;
		timeZone: string;
		person: { name: string };
		/** where to go when the item is dealt with */ next?: (() => void | Promise<void>) | null;
		/** told when something is being done with the item */ begin?: (() => void) | null;
	} = $props();

	const item = $derived(leaf.item);
	/** pictures stand in the words */
	const beside = $derived(filesBeside(item));
	const { Review, byPhone, showsFiles = false, newVersion } = $derived(deskSideOf(item.kind));
	/** accepted or sent back; a letter is signed */
	const { judged } = $derived(ITEM_KINDS[item.kind]);
	const moves = $derived(itemMovesFrom(item.state, 'firm'));
	const late = $derived(daysLate(item, leaf.today));
	/** what a role may not do is not offered */
	const mayJudge = $derived(leaf.acts.includes('judge_item'));
	/** whoever signs this did not show who they are */
	const cannotGoOn = $derived(
		leaf.checks.some(({ key, stoppedAt }) => stoppedAt !== null && item.letter?.signers.some((one) => one.own && one.key === key))
	);
	/** of a letter: whom it asks has sent pages that they signed by hand */
	const onPaper = $derived(item.letter?.signers.some((one) => one.own && one.onPaperAt !== null) ?? false);
	const toCountersign = $derived(item.kind === 'letter' && item.letter?.state === 'signed' && leaf.acts.includes('countersign'));
	/** the client does not agree with what was shown */
	const wantsChange = $derived(newVersion?.wanted(item) ?? false);
	/** what was said about it; what is pinned to a file stands with it */
	const talk = $derived(leaf.remarks.filter((remark) => !remark.pinned || !showsFiles));
	const viewable = $derived(item.papers.find((p) => shownAs(p.contentType)));
	let open = $state<'send_back' | 'move' | 'waive' | 'fill_in' | 'write' | 'person' | 'pause' | 'new_version' | null>(null);
	let problem = $state('');
	let fields = $state<Record<string, string>>({});
	let pending = $state(false);
	let reasonField = $state<HTMLTextAreaElement>();
	let signing = $state(false);
	let shownPaper = $state<string | null>(null);

	// an id of its own: a live update brings a new object for the same item, and must not close a form
	const itemId = $derived(item.id);
	$effect(() => {
		void itemId;
		open = null;
		signing = false;
		problem = '';
		shownPaper = null;
	});

	const handling = {
		onPending: (p: boolean) => {
			if (p) begin?.();
			pending = p;
		},
		onProblem: (p: { message: string; fields: Record<string, string> }) => {
			problem = p.message;
			fields = p.fields;
		},
		close: () => {
			open = null;
			signing = false;
		},
		onSuccess: async () => {
			problem = '';
			await next?.();
		}
	};

	/** From now on the client cannot go on with what they handed in: somebody has seen it. */
	const looking = $derived(item.state === 'handed_in' ? item.id : null);
	$effect(() => {
		if (looking && mayJudge) void askDesk(`/desk/items/${looking}?/noteLooked`, { version: '0' });
	});
</script>

<div class="space-y-4 p-5 pr-10" {@attach leafKeys}>
	<header>
		<h2 class="text-[1.2rem] leading-snug">{item.title}</h2>
		<p class="mt-0.5 text-sm text-(--half)">
			<a class="underline decoration-dotted underline-offset-2" href="/desk/clients/{item.clientId}">{item.clientName}</a> · {item.letter?.state ===
			'lapsed'
				? 'lapsed'
				: ITEM_STATE_WORDS[item.state]}{item.state === 'asked' ? '' : ` ${timeWords('en', item.stateAt, timeZone)}`}
			{#if item.contactName}· {item.raised ? `${item.contactName} asks us` : item.contactName}{/if}
		</p>
	</header>

	{#if problem}<p class="notice-wrong" role="alert">{problem}</p>{/if}

	{#if item.letter?.state === 'lapsed'}
		<p class="notice-lamp">Nobody signed it until {dateWords('en', item.letter.lapsesOn!)}, so it can no longer be signed.</p>
	{:else if item.state === 'answered_no' || item.state === 'declined'}
		<p class="notice-lamp"><b>{item.contactName}</b> wrote: “{item.reason}”</p>
	{:else if item.state === 'sent_back'}
		<p class="notice-lamp">Sent back: “{item.reason}”</p>
	{/if}

	{#if item.askedTimeUntil && isOpen(item.state)}<p class="notice-lamp">
			{item.contactName} asked for time until {dateWords('en', item.askedTimeUntil)}.
		</p>{/if}
	{#key item.id}<Review {item} {leaf} {timeZone} answered={!isOpen(item.state)} />{/key}
	{#if beside.length > 0 && !showsFiles}
		<p class="text-sm">
			<span class="text-(--half)">Attached:</span>
			{#each beside as file, i (file.id)}{i > 0 ? ', ' : ''}<a class="act-link" href="/desk/attachments/{file.id}" target="_blank" rel="noopener"
					>{file.name}</a
				>{/each}
		</p>
	{/if}
	{#if item.papers.length > 0}
		{@const current = item.papers.find((p) => p.id === shownPaper) ?? viewable}
		{#if current && item.state !== 'started'}<PaperView paper={current} src="/desk/papers/{current.id}" />{/if}
		<ul class="text-sm" aria-label="Papers">
			{#each item.papers as paper (paper.id)}
				<li class="flex items-baseline gap-3 border-b border-(--rule-strong) py-1.5">
					<span class="min-w-0 flex-1 truncate">{paper.name}</span>
					<span class="text-xs text-(--half)">{sizeWords('en', paper.bytes)}</span>
					{#if shownAs(paper.contentType)}<button class="act-link" onclick={() => (shownPaper = paper.id)} aria-label="Show {paper.name}">show</button
						>{/if}
					<a class="act-link" href="/desk/papers/{paper.id}?download" download aria-label="Download {paper.name}">download</a>
				</li>
			{/each}
		</ul>
	{/if}
	<div class="flex flex-wrap gap-2" data-acts>
		{#if toCountersign}
			<button class="act" aria-haspopup="dialog" disabled={pending} onclick={() => (signing = true)}>Read and countersign …</button>
		{:else if mayJudge && moves.includes('accept') && judged}
			<form method="post" action="/desk/items/{item.id}?/accept" {@attach enhancedForm(handling)}>
				<input type="hidden" name="version" value={item.version} />
				<button class={wantsChange ? 'act-quiet' : 'act'} aria-keyshortcuts="a" disabled={pending}
					>{wantsChange ? 'Settled without a new version' : next ? 'Accept and open next' : 'Accept'} <span class="key">a</span></button
				>
			</form>
		{:else if mayJudge && (item.state === 'answered_no' || item.state === 'declined')}
			<form method="post" action="/desk/items/{item.id}?/waive" {@attach enhancedForm(handling)}>
				<input type="hidden" name="version" value={item.version} />
				<button class="act" aria-keyshortcuts="a" disabled={pending}
					>{item.letter?.state === 'lapsed' ? 'Waive it' : 'Agree and waive it'} <span class="key">a</span></button
				>
			</form>
		{/if}
		{#if mayJudge}
			{#if moves.includes('send_back') && judged}<button
					class="act-quiet"
					aria-keyshortcuts="b"
					aria-expanded={open === 'send_back'}
					onclick={() => (open = open === 'send_back' ? null : 'send_back')}
					>{item.state === 'answered_no' ? 'Ask again anyway …' : 'Send back …'} <span class="key">b</span></button
				>{/if}
			{#if newVersion && !isSettled(item.state)}<button
					class={wantsChange && open !== 'new_version' ? 'act' : 'act-quiet'}
					aria-expanded={open === 'new_version'}
					onclick={() => (open = open === 'new_version' ? null : 'new_version')}>New version …</button
				>{/if}
			{#if isOpen(item.state)}<button
					class="act-quiet"
					aria-keyshortcuts="d"
					aria-expanded={open === 'move'}
					onclick={() => (open = open === 'move' ? null : 'move')}>Move due date … <span class="key">d</span></button
				>{/if}
			{#if isOpen(item.state) && leaf.nextChase}<button
					class="act-quiet"
					aria-keyshortcuts="p"
					aria-expanded={open === 'pause'}
					onclick={() => (open = open === 'pause' ? null : 'pause')}>Remind later … <span class="key">p</span></button
				>{/if}
			{#if moves.includes('waive') && item.state !== 'answered_no' && item.state !== 'declined'}<button
					class="act-quiet"
					aria-keyshortcuts="w"
					aria-expanded={open === 'waive'}
					onclick={() => (open = open === 'waive' ? null : 'waive')}>Waive … <span class="key">w</span></button
				>{/if}
			{#if moves.includes('fill_in') && byPhone && !byPhone.not?.(item)}<button
					class="act-quiet"
					aria-expanded={open === 'fill_in'}
					onclick={() => (open = open === 'fill_in' ? null : 'fill_in')}>Answered by phone …</button
				>{/if}
			{#if isOpen(item.state) && judged && leaf.people.length > 1}<button
					class="act-quiet"
					aria-expanded={open === 'person'}
					onclick={() => (open = open === 'person' ? null : 'person')}>Ask somebody else …</button
				>{/if}
			{#if talk.length === 0 && leaf.notes.length === 0}<button
					class="act-quiet"
					aria-keyshortcuts="q"
					aria-expanded={open === 'write'}
					onclick={() => (open = open === 'write' ? null : 'write')}>Write about it … <span class="key">q</span></button
				>{/if}
			{#if moves.includes('reopen') && judged}
				<form method="post" action="/desk/items/{item.id}?/reopen" {@attach enhancedForm(handling)}>
					<input type="hidden" name="version" value={item.version} />
					<button class="act-quiet" disabled={pending}>Ask again</button>
				</form>
			{/if}
		{/if}
	</div>

	{#if open !== null && open !== 'write'}
		{#key open}{@render form(open)}{/key}
	{/if}
	{#key item.id}<ItemConversation
			{item}
			remarks={talk}
			notes={leaf.notes}
			colleagues={leaf.colleagues}
			{timeZone}
			writing={open === 'write'}
			mayWrite={mayJudge}
			mayNote={leaf.acts.includes('keep_record')}
		/>{/key}

	<dl class="facts">
		{#if item.why}<div>
				<dt>Why we ask</dt>
				<dd>{item.why}</dd>
			</div>{/if}
		<div>
			<dt>Due</dt>
			<dd>
				{item.dueOn ? dateWords('en', item.dueOn) : 'no date'}{#if late > 0}, <b class="text-(--lamp-deep)"
						>{late} {late === 1 ? 'day' : 'days'} late</b
					>{/if}{item.required ? '' : ', only if they have it'}
			</dd>
		</div>
		{#if isOpen(item.state)}
			<div>
				<dt>If you do nothing</dt>
				<dd>
					{#if leaf.nextChase}<b>{leaf.nextChase.when}</b>, {leaf.nextChase.why}.{:else if cannotGoOn}Nobody is reminded of it: who signs could not
						show who they are.{:else if onPaper}Nobody is reminded of it: the pages that were signed by hand wait to be looked at.{:else if item.asksUs}Nobody
						is reminded of it: what {item.contactName}
						has asked waits for an answer.{:else}No reminder is left in the plan.{/if}
					{#if leaf.plan}<div class="text-(--half)">By the plan <b title={leaf.plan.words}>{leaf.plan.name}</b>, {leaf.plan.why}.</div>{/if}
					{#each leaf.holds as hold (hold.requestId ?? hold.itemId)}<div>
							<span class="text-(--half)"
								>{hold.requestId ? 'All of this request is' : 'It is'} paused until {dateWords('en', hold.until)}{hold.sooner && !hold.happened
									? `, or sooner ${soonerInWords(hold.sooner)},`
									: ''} by {hold.by}: “{hold.reason}”{hold.happened ? ', and what that waited for has happened' : ''}</span
							>
							{#if mayJudge}<form method="post" action="/desk/items/{item.id}?/letGoOn" class="inline" {@attach enhancedForm(handling)}>
									<input type="hidden" name="what" value={hold.requestId ? 'request' : 'item'} />
									<button class="act-link min-h-6" disabled={pending}>remind again now</button>
								</form>{/if}
						</div>{/each}
				</dd>
			</div>
		{/if}
		{#if item.chasesSent > 0}<div>
				<dt>Reminders so far</dt>
				<dd>{item.chasesSent}</dd>
			</div>{/if}
		<div>
			<dt>Asked in</dt>
			<dd>{item.requestTitle}</dd>
		</div>
	</dl>

	<details>
		<summary class="cursor-pointer text-sm text-(--half)"
			>What happened to it, {leaf.events.length} {leaf.events.length === 1 ? 'entry' : 'entries'}</summary
		>
		<ol class="mt-2 space-y-1 text-sm">
			{#each leaf.events as event, i (i)}<li class="break-words">
					<span class="text-(--half)">{timeWords('en', event.at, timeZone)}</span>
					{event.actorName}
					{eventSentence(event.verb, event.details)}
				</li>{/each}
		</ol>
	</details>
</div>

{#snippet form(what: typeof open)}
	{#if what === 'send_back'}
		<form
			method="post"
			action="/desk/items/{item.id}?/sendBack"
			class="space-y-2"
			{@attach enhancedForm(handling)}
			{@attach keepOnDevice(`send back ${item.id}`)}
		>
			<input type="hidden" name="version" value={item.version} />
			<label class="field"
				><span>What still needs fixing? {item.contactName} reads this.</span><textarea
					name="reason"
					rows="3"
					data-first
					bind:this={reasonField}
					maxlength="1000"
					required
					aria-invalid={fields.reason ? 'true' : undefined}></textarea></label
			>
			<TextChoice
				kind="sent_back"
				take={(text) => {
					reasonField!.value = text.body;
					reasonField!.dispatchEvent(new Event('input', { bubbles: true }));
					reasonField!.focus();
				}}
			/>
			<button class="act" disabled={pending}>Send it back to {item.contactName.split(' ')[0]}</button>
		</form>
	{:else if what === 'move'}
		<form method="post" action="/desk/items/{item.id}?/moveDue" class="flex flex-wrap items-end gap-2" {@attach enhancedForm(handling)}>
			<input type="hidden" name="version" value={item.version} />
			<label class="field"
				><span>New due date</span><input
					type="date"
					name="dueOn"
					data-first
					min={leaf.today}
					value={item.dueOn && item.dueOn > leaf.today ? item.dueOn : addDays(leaf.today, 7)}
					required
				/></label
			>
			<button class="act" disabled={pending}>Move the date</button>
			<p class="w-full text-xs text-(--half)">The reminders are rescheduled around the new date.</p>
		</form>
	{:else if what === 'pause'}
		<form
			method="post"
			action="/desk/items/{item.id}?/pause"
			class="space-y-2"
			{@attach enhancedForm(handling)}
			{@attach keepOnDevice(`pause ${item.id}`)}
		>
			<div class="flex flex-wrap items-end gap-3">
				<label class="field"
					><span>Not before</span><input
						type="date"
						name="until"
						data-first
						min={addDays(leaf.today, 1)}
						value={addDays(leaf.today, 7)}
						required
						aria-invalid={fields.until ? 'true' : undefined}
					/></label
				>
				<label class="field"
					><span>What</span><select name="what"
						><option value="item">this one thing</option><option value="request">all of “{item.requestTitle}”</option></select
					></label
				>
				<SoonerChoice things={leaf.awaitable} />
			</div>
			<label class="field"
				><span>Why, for us alone</span><input name="reason" maxlength="300" required aria-invalid={fields.reason ? 'true' : undefined} /></label
			>
			<button class="act" disabled={pending}>Remind later</button>
			<p class="text-xs text-(--half)">
				Until then nobody is reminded of it; everything else goes as planned, also what has to be done first. The due date stays.
			</p>
		</form>
	{:else if what === 'waive'}
		<form method="post" action="/desk/items/{item.id}?/waive" class="space-y-2" {@attach enhancedForm(handling)}>
			<input type="hidden" name="version" value={item.version} />
			<p class="text-sm">
				{!judged ? 'The letter can then not be signed any more.' : `${item.contactName.split(' ')[0]} is not asked for it any more.`} You can ask again
				later.
			</p>
			<button class="act" data-first disabled={pending}>Waive “{item.title}”</button>
		</form>
	{:else if what === 'person'}
		<form method="post" action="/desk/items/{item.id}?/changePerson" class="flex flex-wrap items-end gap-2" {@attach enhancedForm(handling)}>
			<input type="hidden" name="version" value={item.version} />
			<label class="field"
				><span>Who is asked, and reminded</span><select name="contactId" value={item.contactId}
					>{#each leaf.people as someone (someone.id)}<option value={someone.id}>{someone.name}</option>{/each}</select
				></label
			>
			<button class="act" disabled={pending}>Ask them</button>
		</form>
	{:else if what === 'new_version' && newVersion}<newVersion.Form {item} {handling} {pending} />
	{:else if what === 'fill_in'}<FillIn {item} {handling} {pending} {fields} />
	{/if}
{/snippet}

{#if signing && item.letter && leaf.pages && leaf.me}<Countersign
		{item}
		pages={leaf.pages}
		{timeZone}
		now={leaf.now}
		person={{ ...leaf.me, name: person.name }}
		{handling}
		{pending}
		close={() => (signing = false)}
	/>{/if}
