<script lang="ts">
	import type { WritingPlace } from '$lib/core/requests/writing-place';
	import { untrack } from 'svelte';
	import { page } from '$app/state';
	import { AUTOMATIC_FIELDS } from '$lib/core/letters/merge-fields';
	import type { AwaitedLetter } from '$lib/core/requests/after-letters';
	import type { LetterDocument } from '$lib/core/letters/letter-document';
	import { asListLine, type LineInHand } from '$lib/core/requests/request-list';
	import type { Pattern } from '$lib/core/schedules/recurrence';
	import type { CatchUp } from '$lib/core/schedules/recurring-form';
	import type { AttachmentRow } from '$lib/server/attachments/attachments';
	import type { occurrenceInWords } from '$lib/web/recurring-forms';
	import { askDesk } from '../desk/ask-desk';
	import { enhancedForm } from '../forms/enhanced-form';
	import FieldProblem from '../forms/FieldProblem.svelte';
	import WordsField from '../library/WordsField.svelte';
	import { askBeforeLeaving, ListInHand } from './list-in-hand.svelte';
	import ListSheet from './ListSheet.svelte';
	import PatternFields from './PatternFields.svelte';
	import type { Snippet } from 'svelte';

	type Shown = ReturnType<typeof occurrenceInWords>;
	/** A request that repeats: what it asks, when, for which period, and what would come of it. */
	let {
		heading,
		client,
		begun,
		version = null,
		files = {},
		services,
		letter,
		place,
		openLetters = [],
		saveWords,
		mayChange = true,
		beside
	}: {
		heading: string;
		client: { id: string; name: string; contacts: { id: string; name: string; email: string | null }[] };
		begun: {
			listId: string | null;
			contactId: string;
			others: string[];
			title: string;
			message: string;
			lines: LineInHand[];
			pattern: Pattern | null;
			rule: string;
			startsOn: string;
			endsOn: string | null;
			times: number | null;
			at: string;
			roll: 'none' | 'following' | 'preceding' | 'modified';
			period: { kind: 'none' | 'week' | 'month' | 'quarter' | 'year'; shift: number };
			quiet: boolean;
			catchUp: CatchUp;
		};
		version?: number | null;
		files?: Record<string, AttachmentRow>;
		services: string[];
		letter: LetterDocument;
		place: WritingPlace;
		/** letters that are not signed by all yet, for which a new one can wait */ openLetters?: readonly AwaitedLetter[];
		saveWords: string;
		/** whoever may not only reads it */ mayChange?: boolean;
		/** stands above the form: state and what can be done */ beside?: Snippet;
	} = $props();
	const given = untrack(() => begun);
	let contactId = $state(given.contactId);
	let others = $state([...given.others]);
	let title = $state(given.title);
	let message = $state(given.message);
	const list = new ListInHand(
		given.lines,
		untrack(() => files)
	);
	let pattern = $state<Pattern | null>(given.pattern ?? (given.rule ? null : { every: 'month', interval: 1, on: { by: 'day', day: 1 } }));
	let rule = $state(given.rule);
	let startsOn = $state(given.startsOn);
	let endsOn = $state(given.endsOn ?? '');
	let times = $state<number | null>(given.times);
	let at = $state(given.at);
	let roll = $state(given.roll);
	let periodKind = $state(given.period.kind);
	let periodShift = $state(given.period.shift);
	let quiet = $state(given.quiet);
	let catchUp = $state(given.catchUp);
	let after = $state<string[]>([]);
	let preview = $state<{ rule: string; occurrences: Shown[] } | null>(null);
	let previewProblem = $state('');

	const payload = $derived(
		JSON.stringify({
			contactId,
			others,
			listId: given.listId,
			title,
			message,
			lines: list.lines.map(asListLine),
			pattern,
			rule,
			startsOn,
			endsOn,
			times,
			at,
			roll,
			period: { kind: periodKind, shift: periodShift },
			quiet,
			catchUp
		})
	);
	let saved = $state(untrack(() => payload));
	const changed = $derived(payload !== saved || version === null);
	askBeforeLeaving(() => payload !== saved && !list.pending, 'This is not saved. Leave without saving?');
	/** What it would do follows what is written. */
	$effect(() => {
		const now = payload;
		const timer = setTimeout(async () => {
			if (list.lines.length === 0) return void (preview = null);
			const answer = await askDesk<{ rule: string; occurrences: Shown[] }>(`${page.url.pathname}?/preview`, { standing: now });
			if (now !== payload) return;
			preview = answer;
			previewProblem = answer ? '' : 'It is not complete yet. Saving says what is missing.';
		}, 400);
		return () => clearTimeout(timer);
	});
</script>

{#snippet under()}{preview ? `Appears ${preview.rule}.` : ''} Each time it is made to fit {client.name} as they are then.{/snippet}

{#snippet whenAndToWhom()}
	{@render beside?.()}
	{#if list.problem}<p class="notice-wrong mb-3" role="alert">{list.problem}</p>{/if}
	<fieldset class="min-w-0 space-y-3" disabled={!mayChange}>
		<label class="field"
			><span>Title; {'{period}'} stands for the period</span><input
				bind:value={title}
				maxlength="120"
				aria-invalid={list.fields.title ? 'true' : undefined}
			/></label
		>
		<div class="grid grid-cols-2 gap-3">
			<label class="field"
				><span>To</span><select bind:value={contactId}
					>{#each client.contacts as c (c.id)}<option value={c.id}>{c.name}{c.email ? '' : ', no address'}</option>{/each}</select
				></label
			>
			<label class="field"
				><span>About</span><select
					value="{periodKind} {periodShift}"
					onchange={(event) => {
						const [kind, shift] = event.currentTarget.value.split(' ');
						periodKind = kind as typeof periodKind;
						periodShift = Number(shift);
					}}
				>
					<option value="month -1">the month before</option>
					<option value="month 0">the month itself</option>
					<option value="quarter -1">the quarter before</option>
					<option value="quarter 0">the quarter itself</option>
					<option value="year -1">the year before</option>
					<option value="year 0">the year itself</option>
					<option value="week -1">the week before</option>
					<option value="week 0">the week itself</option>
					<option value="none 0">no period</option>
				</select></label
			>
		</div>
		{#if client.contacts.length > 1}
			<fieldset class="text-sm">
				<legend class="field-label">Told as well; any one of them answers</legend>
				{#each client.contacts.filter((c) => c.id !== contactId) as c (c.id)}<label class="mr-4 inline-flex items-center gap-2"
						><input type="checkbox" value={c.id} bind:group={others} /> {c.name}</label
					>{/each}
			</fieldset>
		{/if}
		<PatternFields bind:pattern bind:rule bind:at bind:roll problem={list.fields.rule} />
		<div class="grid grid-cols-2 gap-3">
			<div>
				<label class="field"><span>First on or after</span><input type="date" bind:value={startsOn} /></label>
				<FieldProblem id="standing-starts" message={list.fields.startsOn} />
			</div>
			<div>
				<label class="field"><span>Last on or before, if it ends</span><input type="date" bind:value={endsOn} /></label>
				<FieldProblem id="standing-ends" message={list.fields.endsOn} />
			</div>
		</div>
		<div class="!mt-2">
			<label class="flex items-center gap-2 text-sm"
				>or after <input type="number" class="line-input !w-20" min="1" max="999" bind:value={times} aria-label="After how many times it ends" /> times</label
			>
			<FieldProblem id="standing-times" message={list.fields.times} />
		</div>
		<details class="text-sm">
			<summary class="cursor-pointer text-(--half)">Words of the message, quietly, and after a pause</summary>
			<div class="mt-2 space-y-3">
				<WordsField
					label="Words of the message; empty for the usual ones"
					bind:value={message}
					fields={AUTOMATIC_FIELDS}
					rows={4}
					problem={list.fields.message}
				/>
				<label class="flex items-center gap-2"><input type="checkbox" bind:checked={quiet} /> show it without a message</label>
				<label class="field"
					><span>What was missed by a pause</span><select bind:value={catchUp}>
						<option value="last">only the last one appears when it resumes</option>
						<option value="all">all of them appear when it resumes</option>
						<option value="none">none of them appear</option>
					</select></label
				>
			</div>
		</details>
		{#if openLetters.length > 0}<fieldset class="text-sm">
				<legend class="field-label">It begins only when all have signed</legend>
				{#each openLetters as letter (letter.id)}<label class="flex items-center gap-2"
						><input type="checkbox" value={letter.id} bind:group={after} /> {letter.title}</label
					>{/each}
			</fieldset>{/if}
		{#if mayChange}<form method="post" action="?/save" class="flex gap-2" {@attach enhancedForm(list.form(() => (saved = payload)))}>
				<input type="hidden" name="standing" value={payload} />
				{#if version !== null}<input type="hidden" name="version" value={version} />{/if}
				{#each after as id (id)}<input type="hidden" name="afterLetter" value={id} />{/each}
				<button class="act" disabled={list.pending || !changed || list.lines.length === 0}>{changed ? saveWords : 'Saved'}</button>
			</form>{/if}
		{#if version !== null && changed}<p class="text-xs text-(--half)">What was asked stays as it is. The change holds from the next time on.</p>{/if}
	</fieldset>
	{#if version === null}
		<h2 class="mt-5 text-[1.05rem]">What would come</h2>
		{#if previewProblem}<p class="mt-1 text-sm text-(--lamp-deep)">{previewProblem}</p>{/if}
		{#if list.lines.length === 0}<p class="mt-1 text-sm text-(--half)">Add the first line; then the next twelve times are shown here.</p>{/if}
		<ol class="mt-1 text-sm">
			{#each preview?.occurrences ?? [] as one (one.ruleDay)}
				<li class="border-b border-(--rule-strong) py-1">
					<b>{one.title}</b>
					<span class="block text-(--half)"
						>asked {one.asked}, due {one.due}{one.chases.length > 0 ? `; reminders ${one.chases.join(', ')}` : ''}</span
					>
				</li>
			{/each}
		</ol>
	{/if}
{/snippet}

<ListSheet
	{list}
	of="list"
	back={{ href: `/desk/clients/${client.id}`, words: `Back to ${client.name}` }}
	{heading}
	{under}
	besideLabel="When, and to whom"
	besideWidth={430}
	beside={whenAndToWhom}
	{services}
	{letter}
	{place}
	{mayChange}
/>
