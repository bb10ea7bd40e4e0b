<script lang="ts">
	import { firmFacts } from '$lib/core/facts/fact-definition';
	import { firstCondition } from '$lib/core/requests/conditions';
	import type { FirmCalendar } from '$lib/core/calendar/firm-calendar';
	import type { LineInHand } from '$lib/core/requests/request-list';
	import { dueDate } from '$lib/core/schedules/due-rule';
	import type { AttachmentRow } from '$lib/server/attachments/attachments';
	import { dateWords } from '$lib/words/dates';
	import AttachmentFields from './AttachmentFields.svelte';
	import ConditionEditor from './ConditionEditor.svelte';
	import DueRuleFields from './DueRuleFields.svelte';
	import ItemTextEditor from './ItemTextEditor.svelte';
	import SpecFields from './SpecFields.svelte';
	import type { WritingPlace } from '$lib/core/requests/writing-place';

	/** Everything about one line: its words, what it asks for, when it is due, and in a list for whom. */
	let {
		line = $bindable(),
		of,
		today,
		headings,
		services,
		files = $bindable(),
		place,
		calendar = null,
		several = false
	}: {
		line: LineInHand;
		/** a line of a list of the Library has rules, one of a request has days */ of: 'list' | 'request';
		today: string;
		headings: string[];
		services: string[];
		files: Record<string, AttachmentRow>;
		place: WritingPlace;
		/** by which a rule becomes a day */ calendar?: FirmCalendar | null;
		/** more than one person may be asked */ several?: boolean;
	} = $props();
	const id = $props.id();
	/** by what it is chased where nothing is chosen for it */
	const usually = $derived.by(() => {
		const from = line.kind === 'questionnaire' ? line.spec.from : undefined;
		const key = place.questionnaires.find(({ id }) => id === from?.id)?.chasePlan;
		const plan = key && place.plans.find((one) => one.key === key);
		return plan ? `as the questionnaire has it: ${plan.name}` : of === 'list' ? 'as the whole list' : 'as the whole request';
	});
	const byRule = $derived(of === 'request' && line.dueBy === 'rule');
	$effect(() => {
		if (!byRule || !calendar) return;
		const day = dueDate(line.due, { askedOn: today, periodEnd: null }, calendar);
		if (line.dueOn !== day) line.dueOn = day;
	});
</script>

<div class="grid gap-3 pt-2 pb-4 sm:grid-cols-[1fr_11rem]">
	<label class="field"><span>What do you ask for?</span><input id="title-{line.key}" bind:value={line.title} maxlength="160" /></label>
	{#if of === 'request'}<label class="field"
			><span>Due</span><input
				type="date"
				bind:value={
					() => line.dueOn,
					(day) => {
						// a day that is typed takes the place of the rule, also while it is still half typed and so empty
						line.dueBy = 'date';
						line.dueOn = day;
					}
				}
				min={today}
			/></label
		>
	{:else}<label class="field"><span>Under the heading</span><input bind:value={line.heading} maxlength="80" list="{id}-headings" /></label>{/if}
	<div class="sm:col-span-2">
		{#key line.key}<ItemTextEditor
				bind:why={line.why}
				bind:text={line.text}
				bind:attachments={line.attachments}
				bind:files
				label="Why, in words the client understands. Addresses of pages and videos become links."
			/>{/key}
	</div>
	<div class="sm:col-span-2"><SpecFields bind:line {place} /></div>
	<div class="sm:col-span-2"><AttachmentFields bind:ids={line.attachments} bind:files needed={line.kind === 'approve'} /></div>
	{#if of === 'request' && calendar}
		<div class="text-sm sm:col-span-2">
			{#if byRule}
				<DueRuleFields bind:due={line.due} />
				<p class="mt-1 text-(--half)">
					{#if line.dueOn}That is {dateWords('en', line.dueOn)} if it is sent today; sent later, it moves along.{/if}
					<button type="button" class="act-link" onclick={() => (line.dueBy = 'date')}>Keep this day</button>
				</p>
			{:else}<button type="button" class="act-link" onclick={() => (line.dueBy = 'rule')}>Due by a rule, from the day it is sent …</button>{/if}
		</div>
	{/if}
	{#if of === 'list'}
		<div class="sm:col-span-2"><DueRuleFields bind:due={line.due} /></div>
		<div class="sm:col-span-2">
			{#if line.condition}
				<p class="field-label">Asked only if</p>
				<ConditionEditor bind:condition={line.condition} {services} facts={firmFacts(place.facts)} />
				<button type="button" class="act-link mt-1 text-sm" onclick={() => (line.condition = null)}>Ask everybody</button>
			{:else}
				<p class="text-sm">
					<span class="text-(--half)">Asked of everybody.</span>
					<button type="button" class="act-link" onclick={() => (line.condition = firstCondition(firmFacts(place.facts)))}>Ask only some …</button>
				</p>
			{/if}
		</div>
	{:else}
		<label class="field sm:max-w-xs"><span>Under the heading</span><input bind:value={line.heading} maxlength="80" list="{id}-headings" /></label>
	{/if}
	<div class="flex flex-wrap items-center gap-x-5 gap-y-1 text-sm sm:col-span-2">
		<label class="flex items-center gap-2"><input type="checkbox" bind:checked={line.required} /> needed</label>
		{#if line.kind !== 'letter'}<label class="flex items-center gap-2"
				><input type="checkbox" bind:checked={line.acceptsItself} /> accepted automatically, nobody checks</label
			>{/if}
		<label class="flex max-w-full items-center gap-2"
			>reminders
			<select
				class="line-input !w-auto max-w-full"
				value={place.plans.some(({ key }) => key === line.chasePlan) ? line.chasePlan : ''}
				onchange={(event) => (line.chasePlan = event.currentTarget.value || null)}
				><option value="">{usually}</option>{#each place.plans as plan (plan.key)}<option value={plan.key}>{plan.name}</option>{/each}</select
			>
		</label>
		{#if several && line.kind !== 'letter' && line.kind !== 'transactions'}
			<label class="flex items-center gap-2"
				>of several people
				<select
					class="line-input !w-auto"
					value={line.each === true ? 'each' : line.each === false ? 'any' : ''}
					onchange={(event) => (line.each = event.currentTarget.value === '' ? null : event.currentTarget.value === 'each')}
					><option value="">as the whole request</option><option value="any">any one answers</option><option value="each">each for themselves</option
					></select
				></label
			>
		{/if}
	</div>
	<datalist id="{id}-headings"
		>{#each headings as heading (heading)}<option value={heading}></option>{/each}</datalist
	>
</div>
