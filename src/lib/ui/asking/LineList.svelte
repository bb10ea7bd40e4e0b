<script lang="ts">
	import { tick } from 'svelte';
	import { dragHandle, dragHandleZone, type DndEvent } from 'svelte-dnd-action';
	import { conditionInWords, type FactValueWords } from '$lib/core/requests/conditions';
	import { ITEM_KINDS } from '$lib/core/items/item-kinds';
	import type { LineInHand } from '$lib/core/requests/request-list';
	import type { FirmCalendar } from '$lib/core/calendar/firm-calendar';
	import type { LetterDocument } from '$lib/core/letters/letter-document';
	import { firmFacts } from '$lib/core/facts/fact-definition';
	import { factInWords } from '$lib/core/facts/fact-words';
	import { dueRuleInWords } from '$lib/core/schedules/due-rule';
	import { dateWords } from '$lib/words/dates';
	import { factReader } from '$lib/words/facts';
	import AddLines from './AddLines.svelte';
	import LineFields from './LineFields.svelte';
	import type { ListInHand } from './list-in-hand.svelte';
	import type { WritingPlace } from '$lib/core/requests/writing-place';

	/** The lines of a request or of a list, under their headings: opened, moved by mouse and keyboard, added, pasted. */
	let {
		list,
		of,
		today = '',
		dueOn = '',
		services,
		letter,
		place,
		calendar = null,
		several = false,
		mayChange = true,
		remember
	}: {
		list: ListInHand;
		of: 'list' | 'request';
		today?: string;
		/** due date of a new line without one before it */ dueOn?: string;
		services: string[];
		/** what a new letter begins with */ letter: LetterDocument;
		place: WritingPlace;
		/** by which a rule becomes a day, in a request */ calendar?: FirmCalendar | null;
		/** more than one person may be asked */ several?: boolean;
		/** whoever may not only reads it */ mayChange?: boolean;
		/** keeps a decision for this client; without it nothing is offered */ remember?: (line: LineInHand) => void;
	} = $props();
	const lines = $derived(list.lines);
	let said = $state('');

	const headings = $derived([...new Set(lines.map((line) => line.heading).filter(Boolean))]);
	/** What the drag and drop works on: lines with an id of their own. */
	let dragged = $state<(LineInHand & { id: string })[] | null>(null);
	const shown = $derived(dragged ?? lines.map((line) => ({ ...line, id: line.key })));
	const count = (heading: string) => {
		const under = lines.filter((line) => line.heading === heading);
		return { all: under.length, going: under.filter((line) => !line.out).length };
	};
	const facts = $derived(firmFacts(place.facts));
	const reader = factReader('en', '');
	const factWords: FactValueWords = (fact, value, is) => factInWords(fact, value, reader, is);

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
		list.lines = next;
		dragged = null;
	}
</script>

{#snippet words(line: LineInHand)}
	{@const plan = place.plans.find(({ key }) => key === line.chasePlan)}
	<b class={line.out ? 'font-normal text-(--half) line-through' : ''}>{line.title || 'Untitled line'}</b>
	{#if line.out}<span class="text-(--lamp-deep)"> left out{line.because ? `: ${line.because}` : ''}</span>
	{:else}
		{#if line.missing.length > 0}<span class="text-(--lamp-deep)"> depends on what is not known yet</span>{/if}
		<span class="text-(--half)"
			>{[
				line.required ? '' : 'if they have it',
				line.because ? `kept: ${line.because}` : '',
				of === 'list' && line.condition ? `only if ${conditionInWords(line.condition, facts, factWords)}` : '',
				plan ? `reminded by “${plan.name}”` : '',
				line.attachments.length > 0 ? `${line.attachments.length} ${line.attachments.length === 1 ? 'file' : 'files'}` : '',
				line.because || line.condition ? '' : line.why
			]
				.filter(Boolean)
				.join(' · ')}</span
		>
	{/if}
{/snippet}

<p class="sr" aria-live="polite">{said}</p>
{#snippet rows()}
	{#each shown as row, i (row.id)}
		{@const at = lines.findIndex((line) => line.key === row.key)}
		{@const line = lines[at] ?? row}
		<li>
			{#if line.heading && line.heading !== shown[i - 1]?.heading}
				{@const n = count(line.heading)}
				<h2 class="line-head">
					{line.heading}
					<span class="font-sans text-[0.8rem] font-normal text-(--half)"
						>{of === 'request' && n.going < n.all ? `${n.going} of ${n.all}` : n.all}</span
					>
				</h2>
			{/if}
			<div class="line-row" class:lit={list.open === line.key} class:wrong={list.wrong === line.key}>
				<span class="line-kind"
					>{#if mayChange}<span class="handle" use:dragHandle aria-label="Move {line.title || 'this line'}">⠿</span>{/if}{ITEM_KINDS[line.kind].words
						.short}</span
				>
				<div class="flex min-w-0 items-center gap-2">
					{#if !mayChange}<p class="min-w-0 flex-1 truncate">{@render words(line)}</p>
					{:else}<button
							id="row-{line.key}"
							class="min-w-0 flex-1 truncate text-left"
							aria-expanded={list.open === line.key}
							aria-keyshortcuts="Alt+ArrowUp Alt+ArrowDown"
							onkeydown={(event) => onKey(event, line.key)}
							onclick={() => (list.open = list.open === line.key ? null : line.key)}
						>
							{@render words(line)}
						</button>{/if}
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
					{#if mayChange && of === 'request'}
						{#if remember && line.overridden}<button class="act-link text-sm whitespace-nowrap" onclick={() => remember(line)}
								>always for this client</button
							>{/if}
						<button
							class="act-link text-sm whitespace-nowrap"
							aria-label="{line.out ? 'Put back' : 'Leave out'}: {line.title}"
							onclick={() => {
								line.out = !line.out;
								line.overridden = true;
							}}>{line.out ? 'put back' : 'leave out'}</button
						>
					{:else if mayChange}<button
							class="act-link text-sm whitespace-nowrap"
							aria-label="Remove: {line.title}"
							onclick={() => {
								lines.splice(at, 1);
								if (list.open === line.key) list.open = null;
							}}>remove</button
						>{/if}
				</div>
				{#if list.open === line.key && !line.out && at >= 0}
					<div class="col-start-2">
						<LineFields bind:line={list.lines[at]} {of} {today} {headings} {services} bind:files={list.files} {place} {calendar} {several} />
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
{/snippet}

<!-- whoever only reads has nothing to drag, so the list takes no focus -->
{#if mayChange}
	<ul
		class="mt-3"
		use:dragHandleZone={{ items: shown, flipDurationMs: 0, dropTargetStyle: {}, type: 'lines', dragDisabled: list.open !== null }}
		onconsider={consider}
		onfinalize={drop}
	>
		{@render rows()}
	</ul>
	<AddLines {list} {letter} {dueOn} />
{:else}
	<ul class="mt-3">{@render rows()}</ul>
{/if}

<style>
	.handle {
		float: left;
		width: 24px;
		text-align: center;
		color: var(--faint);
		cursor: grab;
		opacity: 0.35;
	}
	.line-row:hover .handle,
	.handle:focus-visible {
		opacity: 1;
	}
	.lit {
		background: linear-gradient(90deg, transparent 86px, var(--margin-line) 86px, var(--margin-line) 87px, transparent 87px) var(--lamp-soft);
		align-items: start;
	}
	.lit .line-kind {
		padding-top: 8px;
	}
	.wrong {
		box-shadow: inset 3px 0 var(--wrong);
	}
</style>
