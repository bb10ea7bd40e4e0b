<script lang="ts">
	import type { Pattern } from '$lib/core/schedules/recurrence';
	import FieldProblem from '../forms/FieldProblem.svelte';

	/** On which days and at what time a standing request appears. */
	let {
		pattern = $bindable(),
		rule = $bindable(),
		at = $bindable(),
		roll = $bindable(),
		problem
	}: {
		/** null if the rule is written by hand */ pattern: Pattern | null;
		/** RFC 5545 */ rule: string;
		/** HH:MM in the firm's time zone */ at: string;
		roll: 'none' | 'following' | 'preceding' | 'modified';
		/** what is wrong with the rule */ problem?: string;
	} = $props();
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

<fieldset>
	<legend class="field-label">Appears</legend>
	<div class="flex flex-wrap items-center gap-1.5 text-sm">
		<select class="line-input !w-auto" aria-label="On which day" value={kindOf(pattern)} onchange={(event) => setKind(event.currentTarget.value)}>
			<option value="day">on a day of the month</option>
			<option value="last_day">on the last day of the month</option>
			<option value="business_day">on a business day of the month</option>
			<option value="weekday">on a weekday of the month</option>
			<option value="week">on days of the week</option>
			<option value="rule">by a calendar rule (RFC 5545)</option>
		</select>
		{#if pattern === null}
			<input class="line-input font-mono !text-[0.8rem]" bind:value={rule} maxlength="300" aria-label="Rule (RFC 5545)" spellcheck="false" />
			<FieldProblem id="standing-rule" message={problem} />
		{:else if pattern.every === 'week'}
			<span class="flex flex-wrap gap-x-2.5"
				>{#each WEEK.slice(1) as name, i (name)}<label class="flex items-center gap-1"
						><input type="checkbox" value={i + 1} bind:group={pattern.weekdays} />{name}</label
					>{/each}</span
			>
		{:else if pattern.on.by === 'day'}
			<span>the</span><input type="number" class="line-input !w-16" min="1" max="31" bind:value={pattern.on.day} aria-label="Day of the month" />
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
