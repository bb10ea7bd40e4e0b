<script lang="ts">
	import { tick } from 'svelte';
	import { dragHandle, dragHandleZone, type DndEvent } from 'svelte-dnd-action';
	import { conditionInWords } from '$lib/core/requests/conditions';
	import { ITEM_KIND_NAMES, ITEM_KINDS, type ItemKind } from '$lib/core/items/item-kinds';
	import { LINES_MAX, linesOfText, newLine, type LineInHand } from '$lib/core/requests/request-list';
	import type { FirmCalendar } from '$lib/core/calendar/firm-calendar';
	import type { LetterDocument } from '$lib/core/letters/letter-document';
	import { factInWords } from '$lib/core/clients/facts';
	import { dueRuleInWords } from '$lib/core/schedules/due-rule';
	import type { AttachmentLine } from '$lib/server/attachments/attachments';
	import { dateWords, dayOfYearWords } from '$lib/words/dates';
	import LineFields from './LineFields.svelte';

	/** The lines of a request or of a list, under their headings: opened, moved by mouse and keyboard, added, pasted. */
	let {
		lines = $bindable(),
		files = $bindable(),
		open = $bindable(null),
		of,
		today = '',
		dueOn = '',
		services,
		letter,
		place,
		calendar = null,
		several = false,
		wrong = null,
		toggled,
		remember
	}: {
		lines: LineInHand[];
		files: Record<string, AttachmentLine>;
		/** key of the line whose fields are shown */ open?: string | null;
		of: 'list' | 'request';
		today?: string;
		/** due date of a new line without one before it */ dueOn?: string;
		services: string[];
		/** what a new letter begins with */ letter: LetterDocument;
		place: { currency: string; timeZone: string };
		/** by which a rule becomes a day, in a request */ calendar?: FirmCalendar | null;
		/** more than one person may be asked */ several?: boolean;
		/** key of the line a refusal is about */ wrong?: string | null;
		/** a line was taken out or put back by hand */ toggled?: (line: LineInHand) => void;
		/** keeps a decision for this client; without it nothing is offered */ remember?: (line: LineInHand) => void;
	} = $props();
	let pasting = $state<string | null>(null);
	let said = $state('');

	const headings = $derived([...new Set(lines.map((line) => line.heading).filter(Boolean))]);
	/** What the drag and drop works on: lines with an id of their own. */
	let dragged = $state<(LineInHand & { id: string })[] | null>(null);
	const shown = $derived(dragged ?? lines.map((line) => ({ ...line, id: line.key })));
	const count = (heading: string) => {
		const under = lines.filter((line) => line.heading === heading);
		return { all: under.length, going: under.filter((line) => !line.out).length };
	};
	const words = (name: string, value: string) =>
		factInWords(name, value, { date: (d) => dateWords('en', d, 'withYear'), day: (d) => dayOfYearWords('en', d) });

	/** A new line stands under the heading of the last one, and is due as it is. */
	function likeLast(): Pick<LineInHand, 'heading' | 'due' | 'dueOn'> {
		const last = lines.at(-1);
		return {
			heading: last?.heading ?? '',
			due: last?.due ?? { from: 'asked', offset: 8, unit: 'business_days', roll: 'none' },
			dueOn: last?.dueOn || dueOn
		};
	}

	/** Adds a line and opens it. */
	export async function add(kind: ItemKind) {
		const key = crypto.randomUUID();
		lines.push(
			newLine({
				key,
				kind,
				...likeLast(),
				title: kind === 'letter' ? 'Engagement letter' : '',
				document: kind === 'letter' ? structuredClone($state.snapshot(letter) as LetterDocument) : null
			})
		);
		open = key;
		await tick();
		document.getElementById(`title-${key}`)?.focus();
	}
	function paste() {
		const found = linesOfText(pasting ?? '');
		const last = likeLast();
		for (const { heading, title } of found.slice(0, LINES_MAX - lines.length)) {
			const question = title.endsWith('?');
			const key = crypto.randomUUID();
			lines.push(
				newLine({
					key,
					kind: question ? 'question' : 'paper',
					...last,
					heading: heading || last.heading,
					title
				})
			);
		}
		said = `${found.length} ${found.length === 1 ? 'line' : 'lines'} added.`;
		pasting = null;
	}
	function move(key: string, by: number) {
		const from = lines.findIndex((line) => line.key === key);
		const to = from + by;
		if (to < 0 || to >= lines.length) return;
		// at the edge of a heading the line first goes over to the neighbour's heading
		if (lines[to].heading !== lines[from].heading) lines[from].heading = lines[to].heading;
		else {
			const [line] = lines.splice(from, 1);
			lines.splice(to, 0, line);
		}
		const at = lines.findIndex((line) => line.key === key);
		said = `${lines[at].title || 'Untitled line'}: place ${at + 1} of ${lines.length}${lines[at].heading ? `, under ${lines[at].heading}` : ''}.`;
		void tick().then(() => document.getElementById(`row-${key}`)?.focus());
	}
	function onKey(event: KeyboardEvent, key: string) {
		if (!event.altKey || (event.key !== 'ArrowUp' && event.key !== 'ArrowDown')) return;
		event.preventDefault();
		event.stopPropagation();
		move(key, event.key === 'ArrowUp' ? -1 : 1);
	}
	const consider = (event: CustomEvent<DndEvent<LineInHand & { id: string }>>) => (dragged = event.detail.items);
	function drop(event: CustomEvent<DndEvent<LineInHand & { id: string }>>) {
		const order = event.detail.items.map((item) => item.id);
		const at = order.indexOf(event.detail.info.id);
		const next = order.map((key) => lines.find((line) => line.key === key)!);
		// a line takes the heading of the line it was dropped below
		if (at >= 0) next[at].heading = (next[at - 1] ?? next[at + 1])?.heading ?? next[at].heading;
		lines = next;
		dragged = null;
	}
</script>

<p class="sr" aria-live="polite">{said}</p>
<ul
	class="mt-3"
	use:dragHandleZone={{ items: shown, flipDurationMs: 0, dropTargetStyle: {}, type: 'lines', dragDisabled: open !== null }}
	onconsider={consider}
	onfinalize={drop}
>
	{#each shown as row, i (row.id)}
		{@const at = lines.findIndex((line) => line.key === row.key)}
		{@const line = lines[at] ?? row}
		<li>
			{#if line.heading && line.heading !== shown[i - 1]?.heading}
				{@const n = count(line.heading)}
				<h2 class="heading">
					{line.heading}
					<span class="font-sans text-[0.8rem] font-normal text-(--half)"
						>{of === 'request' && n.going < n.all ? `${n.going} of ${n.all}` : n.all}</span
					>
				</h2>
			{/if}
			<div class="line" class:lit={open === line.key} class:wrong={wrong === line.key}>
				<span class="kind"
					><span class="handle" use:dragHandle aria-label="Move {line.title || 'this line'}">⠿</span>{ITEM_KINDS[line.kind].words.short}</span
				>
				<div class="flex min-w-0 items-center gap-2">
					<button
						id="row-{line.key}"
						class="min-w-0 flex-1 truncate text-left"
						aria-expanded={open === line.key}
						aria-keyshortcuts="Alt+ArrowUp Alt+ArrowDown"
						onkeydown={(event) => onKey(event, line.key)}
						onclick={() => (open = open === line.key ? null : line.key)}
					>
						<b class={line.out ? 'font-normal text-(--half) line-through' : ''}>{line.title || 'Untitled line'}</b>
						{#if line.out}<span class="text-(--lamp-deep)"> left out{line.because ? `: ${line.because}` : ''}</span>
						{:else}
							{#if line.missing.length > 0}<span class="text-(--lamp-deep)"> depends on what is not known yet</span>{/if}
							<span class="text-(--half)"
								>{[
									line.required ? '' : 'if they have it',
									line.because ? `kept: ${line.because}` : '',
									of === 'list' && line.condition ? `only if ${conditionInWords(line.condition, words)}` : '',
									line.attachments.length > 0 ? `${line.attachments.length} ${line.attachments.length === 1 ? 'file' : 'files'}` : '',
									line.because || line.condition ? '' : line.why
								]
									.filter(Boolean)
									.join(' · ')}</span
							>
						{/if}
					</button>
					<span class="text-sm whitespace-nowrap text-(--half)"
						>{of === 'list'
							? line.due.offset === 0
								? 'at once'
								: `${line.due.from === 'period_end' ? 'end ' : ''}${line.due.offset > 0 ? '+' : '−'}${Math.abs(line.due.offset)} ${line.due.unit === 'days' ? 'days' : 'bus. days'}`
							: line.out
								? ''
								: line.dueOn
									? dateWords('en', line.dueOn)
									: ''}</span
					>
					{#if of === 'request'}
						{#if remember && line.overridden}<button class="act-link text-sm whitespace-nowrap" onclick={() => remember(line)}
								>always for this client</button
							>{/if}
						<button
							class="act-link text-sm whitespace-nowrap"
							aria-label="{line.out ? 'Put back' : 'Leave out'}: {line.title}"
							onclick={() => {
								line.out = !line.out;
								line.overridden = true;
								toggled?.(line);
							}}>{line.out ? 'put back' : 'leave out'}</button
						>
					{:else}<button
							class="act-link text-sm whitespace-nowrap"
							aria-label="Remove: {line.title}"
							onclick={() => {
								lines.splice(at, 1);
								if (open === line.key) open = null;
							}}>remove</button
						>{/if}
				</div>
				{#if open === line.key && !line.out && at >= 0}
					<div class="col-start-2">
						<LineFields bind:line={lines[at]} {of} {today} {headings} {services} bind:files {place} {calendar} {several} />
						<p class="-mt-1 flex gap-2 pb-3 text-sm">
							<button class="act-quiet !min-h-7" onclick={() => move(line.key, -1)} disabled={at === 0}>Up</button>
							<button class="act-quiet !min-h-7" onclick={() => move(line.key, 1)} disabled={at === lines.length - 1}>Down</button>
							<span class="self-center text-xs text-(--half)">or Alt with the arrow keys on the line, or drag it by its handle</span>
						</p>
						{#if of === 'list'}<p class="sr">{dueRuleInWords(line.due)}</p>{/if}
					</div>
				{/if}
			</div>
		</li>
	{/each}
</ul>
<div class="line add">
	<span class="kind">add</span>
	<div class="flex flex-wrap items-center gap-x-3.5 gap-y-1 py-1 text-sm">
		{#each ITEM_KIND_NAMES.filter((name) => ITEM_KINDS[name].written) as kind (kind)}<button
				class="act-link"
				title={ITEM_KINDS[kind].words.about}
				onclick={() => add(kind)}>{ITEM_KINDS[kind].words.words}</button
			>{/each}
		<button class="act-link" aria-expanded={pasting !== null} onclick={() => (pasting = pasting === null ? '' : null)}>paste a list …</button>
	</div>
	{#if pasting !== null}
		<div class="col-start-2 space-y-2 pb-3">
			<!-- svelte-ignore a11y_autofocus -->
			<label class="field"
				><span>One line each. A line that ends with a colon is a heading; one that ends with a question mark becomes a question.</span><textarea
					rows="6"
					bind:value={pasting}
					autofocus></textarea></label
			>
			<button class="act-quiet" onclick={paste} disabled={linesOfText(pasting).length === 0}
				>Make {linesOfText(pasting).length} {linesOfText(pasting).length === 1 ? 'line' : 'lines'}</button
			>
		</div>
	{/if}
</div>

<style>
	.heading {
		padding: 16px 18px 5px 104px;
		font-size: 0.95rem;
		border-bottom: 1px solid var(--rule-strong);
	}
	.line {
		display: grid;
		grid-template-columns: 86px minmax(0, 1fr);
		column-gap: 18px;
		align-items: center;
		min-height: 34px;
		padding-right: 18px;
		border-bottom: 1px solid var(--rule);
		font-size: 0.89rem;
	}
	.line > div > button:first-child {
		min-height: 33px;
		cursor: pointer;
	}
	.add {
		align-items: start;
	}
	.add .kind {
		padding-top: 6px;
	}
	.kind {
		text-align: right;
		padding-right: 12px;
		font-size: 0.78rem;
		color: var(--half);
		white-space: nowrap;
	}
	.handle {
		float: left;
		width: 24px;
		text-align: center;
		color: var(--faint);
		cursor: grab;
		opacity: 0.35;
	}
	.line:hover .handle,
	.handle:focus-visible {
		opacity: 1;
	}
	.lit {
		background: linear-gradient(90deg, transparent 86px, var(--margin-line) 86px, var(--margin-line) 87px, transparent 87px) var(--lamp-soft);
		align-items: start;
	}
	.lit .kind {
		padding-top: 8px;
	}
	.wrong {
		box-shadow: inset 3px 0 var(--wrong);
	}
	@media (max-width: 640px) {
		.line {
			grid-template-columns: minmax(0, 1fr);
			padding-left: 14px;
		}
		.kind {
			text-align: left;
		}
		.line > :global(.col-start-2) {
			grid-column: 1;
		}
		.heading {
			padding-left: 14px;
		}
	}
</style>
