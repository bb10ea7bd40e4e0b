<script lang="ts">
	import { untrack } from 'svelte';
	import { beforeNavigate } from '$app/navigation';
	import { page } from '$app/state';
	import { AUTOMATIC_FIELDS } from '$lib/core/letters/merge-fields';
	import type { LetterDocument } from '$lib/core/letters/letter-document';
	import { asListLine, keyOfWrongLine, type LineInHand } from '$lib/core/requests/request-list';
	import type { Pattern } from '$lib/core/schedules/recurrence';
	import type { CatchUp } from '$lib/core/schedules/recurring-form';
	import type { AttachmentLine } from '$lib/server/attachments/attachments';
	import type { occurrenceInWords } from '$lib/web/recurring-forms';
	import { askDesk } from '../desk/ask-desk';
	import { enhancedForm } from '../forms/enhanced-form';
	import FieldProblem from '../forms/FieldProblem.svelte';
	import WordsField from '../library/WordsField.svelte';
	import LineList from './LineList.svelte';
	import type { Snippet } from 'svelte';

	type Shown = ReturnType<typeof occurrenceInWords>;
	/** A request that repeats: what it asks, when, for which period, and what would come of it. */
	let {
		heading,
		client,
		begun,
		version = null,
		files: givenFiles = {},
		services,
		letter,
		place,
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
		files?: Record<string, AttachmentLine>;
		services: string[];
		letter: LetterDocument;
		place: { currency: string; timeZone: string };
		saveWords: string;
		/** whoever may not only reads it */ mayChange?: boolean;
		/** stands above the form: state and what can be done */ beside?: Snippet;
	} = $props();
	const given = untrack(() => begun);
	let contactId = $state(given.contactId);
	let others = $state([...given.others]);
	let title = $state(given.title);
	let message = $state(given.message);
	let lines = $state<LineInHand[]>(given.lines);
	let files = $state({ ...untrack(() => givenFiles) });
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
	let open = $state<string | null>(null);
	let problem = $state('');
	let fields = $state<Record<string, string>>({});
	let pending = $state(false);
	let preview = $state<{ rule: string; occurrences: Shown[] } | null>(null);
	let previewProblem = $state('');

	const payload = $derived(
		JSON.stringify({
			contactId,
			others,
			listId: given.listId,
			title,
			message,
			lines: lines.map(asListLine),
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
	beforeNavigate((navigation) => {
		if (payload === saved || pending) return;
		if (navigation.willUnload) return navigation.cancel();
		if (!confirm('This is not saved. Leave without saving?')) navigation.cancel();
	});
	/** What it would do follows what is written. */
	$effect(() => {
		const now = payload;
		const timer = setTimeout(async () => {
			if (lines.length === 0) return void (preview = null);
			const answer = await askDesk<{ rule: string; occurrences: Shown[] }>(`${page.url.pathname}?/preview`, { standing: now });
			if (now !== payload) return;
			preview = answer;
			previewProblem = answer ? '' : 'It is not complete yet. Saving says what is missing.';
		}, 400);
		return () => clearTimeout(timer);
	});
	const problemLine = $derived(keyOfWrongLine(fields, lines));
	const WEEK = ['', 'Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'];
	const kindOf = (p: Pattern | null) => (p === null ? 'rule' : p.every === 'week' ? 'week' : p.on.by);
	function setKind(kind: string) {
		const interval = pattern?.interval ?? 1;
		pattern =
			kind === 'rule'
				? null
				: kind === 'week'
					? { every: 'week', interval, weekdays: [1] }
					: kind === 'day'
						? { every: 'month', interval, on: { by: 'day', day: 1 } }
						: kind === 'last_day'
							? { every: 'month', interval, on: { by: 'last_day' } }
							: kind === 'weekday'
								? { every: 'month', interval, on: { by: 'weekday', nth: 1, weekday: 1 } }
								: { every: 'month', interval, on: { by: 'business_day', nth: -1 } };
		if (kind === 'rule' && !rule) rule = 'FREQ=MONTHLY;BYMONTHDAY=1';
	}
</script>

<div class="grid lg:h-[calc(100dvh-47px)] lg:grid-cols-[minmax(0,1fr)_430px]">
	<main id="sheet" class="line-sheet overflow-auto pb-10" tabindex="-1">
		<div class="line-masthead">
			<p class="text-sm"><a class="act-link" href="/desk/clients/{client.id}">Back to {client.name}</a></p>
			<h1 class="mt-1 text-[1.65rem] leading-tight">{heading}</h1>
			<p class="mt-1 text-[0.9rem] text-(--half)">
				{preview ? `Appears ${preview.rule}.` : ''} Each time it is made to fit {client.name} as they are then.
			</p>
		</div>
		{#if mayChange}<LineList bind:lines bind:files bind:open of="list" {services} {letter} {place} wrong={problemLine} />
		{:else}<ul class="py-3 pr-6 pl-[104px] text-[0.95rem]">
				{#each lines as line (line.key)}<li class="border-b border-(--rule) py-1.5">{line.title || 'Untitled line'}</li>{/each}
			</ul>{/if}
	</main>
	<!-- what is only read is scrolled from the keyboard too -->
	<!-- svelte-ignore a11y_no_noninteractive_tabindex -->
	<aside class="overflow-auto border-l border-(--rule-strong) bg-(--leaf) p-5" aria-label="When, and to whom" tabindex={mayChange ? undefined : 0}>
		{@render beside?.()}
		{#if problem}<p class="notice-wrong mb-3" role="alert">{problem}</p>{/if}
		<fieldset class="min-w-0 space-y-3" disabled={!mayChange}>
			<label class="field"
				><span>Title; {'{period}'} stands for the period</span><input
					bind:value={title}
					maxlength="120"
					aria-invalid={fields.title ? 'true' : undefined}
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
			<fieldset>
				<legend class="field-label">Appears</legend>
				<div class="flex flex-wrap items-center gap-1.5 text-sm">
					<select
						class="line-input !w-auto"
						aria-label="On which day"
						value={kindOf(pattern)}
						onchange={(event) => setKind(event.currentTarget.value)}
					>
						<option value="day">on a day of the month</option>
						<option value="last_day">on the last day of the month</option>
						<option value="business_day">on a business day of the month</option>
						<option value="weekday">on a weekday of the month</option>
						<option value="week">on days of the week</option>
						<option value="rule">by a calendar rule (RFC 5545)</option>
					</select>
					{#if pattern === null}
						<input class="line-input font-mono !text-[0.8rem]" bind:value={rule} maxlength="300" aria-label="Rule (RFC 5545)" spellcheck="false" />
						<FieldProblem id="standing-rule" message={fields.rule} />
					{:else if pattern.every === 'week'}
						<span class="flex flex-wrap gap-x-2.5"
							>{#each WEEK.slice(1) as name, i (name)}<label class="flex items-center gap-1"
									><input type="checkbox" value={i + 1} bind:group={pattern.weekdays} />{name}</label
								>{/each}</span
						>
					{:else if pattern.on.by === 'day'}
						<span>the</span><input
							type="number"
							class="line-input !w-16"
							min="1"
							max="31"
							bind:value={pattern.on.day}
							aria-label="Day of the month"
						/>
					{:else if pattern.on.by === 'business_day'}
						<select class="line-input !w-auto" bind:value={pattern.on.nth} aria-label="Which business day">
							{#each [[1, 'the first'], [2, 'the second'], [3, 'the third'], [5, 'the fifth'], [-3, 'the third to last'], [-2, 'the second to last'], [-1, 'the last']] as const as [n, words] (n)}<option
									value={n}>{words}</option
								>{/each}
						</select>
					{:else if pattern.on.by === 'weekday'}
						<select class="line-input !w-auto" bind:value={pattern.on.nth} aria-label="Which one">
							{#each [[1, 'the first'], [2, 'the second'], [3, 'the third'], [4, 'the fourth'], [-1, 'the last']] as const as [n, words] (n)}<option
									value={n}>{words}</option
								>{/each}
						</select>
						<select class="line-input !w-auto" bind:value={pattern.on.weekday} aria-label="Weekday"
							>{#each WEEK.slice(1) as name, i (name)}<option value={i + 1}>{name}</option>{/each}</select
						>
					{/if}
					{#if pattern}
						<span>every</span><input
							type="number"
							class="line-input !w-16"
							min="1"
							max={pattern.every === 'week' ? 52 : 60}
							bind:value={pattern.interval}
							aria-label="Every how many"
						/><span>{pattern.every === 'week' ? (pattern.interval === 1 ? 'week' : 'weeks') : pattern.interval === 1 ? 'month' : 'months'}</span>
					{/if}
					<span>at</span><input type="time" class="line-input !w-auto" bind:value={at} aria-label="Time of day" />
				</div>
				<div class="mt-2 flex flex-wrap items-center gap-1.5 text-sm">
					<span>If that is no business day</span>
					<select class="line-input !w-auto" bind:value={roll} aria-label="If that is no business day">
						<option value="none">all the same</option>
						<option value="following">the next one</option>
						<option value="preceding">the one before</option>
						<option value="modified">the next one in the month</option>
					</select>
				</div>
			</fieldset>
			<div class="grid grid-cols-2 gap-3">
				<div>
					<label class="field"><span>First on or after</span><input type="date" bind:value={startsOn} /></label>
					<FieldProblem id="standing-starts" message={fields.startsOn} />
				</div>
				<div>
					<label class="field"><span>Last on or before, if it ends</span><input type="date" bind:value={endsOn} /></label>
					<FieldProblem id="standing-ends" message={fields.endsOn} />
				</div>
			</div>
			<div class="!mt-2">
				<label class="flex items-center gap-2 text-sm"
					>or after <input type="number" class="line-input !w-20" min="1" max="999" bind:value={times} aria-label="After how many times it ends" /> times</label
				>
				<FieldProblem id="standing-times" message={fields.times} />
			</div>
			<details class="text-sm">
				<summary class="cursor-pointer text-(--half)">Words of the message, quietly, and after a pause</summary>
				<div class="mt-2 space-y-3">
					<WordsField
						label="Words of the message; empty for the usual ones"
						bind:value={message}
						fields={AUTOMATIC_FIELDS}
						rows={4}
						problem={fields.message}
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
			{#if mayChange}<form
					method="post"
					action="?/save"
					class="flex gap-2"
					{@attach enhancedForm({
						onPending: (p) => (pending = p),
						onProblem: (p) => {
							problem = p.message;
							fields = p.fields;
							if (problemLine) open = problemLine;
						},
						onSuccess: () => {
							saved = payload;
							problem = '';
							fields = {};
						}
					})}
				>
					<input type="hidden" name="standing" value={payload} />
					{#if version !== null}<input type="hidden" name="version" value={version} />{/if}
					<button class="act" disabled={pending || !changed || lines.length === 0}>{changed ? saveWords : 'Saved'}</button>
				</form>{/if}
			{#if version !== null && changed}<p class="text-xs text-(--half)">
					What was asked stays as it is. The change holds from the next time on.
				</p>{/if}
		</fieldset>
		{#if version === null}
			<h2 class="mt-5 text-[1.05rem]">What would come</h2>
			{#if previewProblem}<p class="mt-1 text-sm text-(--lamp-deep)">{previewProblem}</p>{/if}
			{#if lines.length === 0}<p class="mt-1 text-sm text-(--half)">Add the first line; then the next twelve times are shown here.</p>{/if}
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
	</aside>
</div>
