<script lang="ts">
	import FirmSettings from '$lib/ui/firm/FirmSettings.svelte';
	import FieldProblem from '$lib/ui/forms/FieldProblem.svelte';
	import type { PageData } from './$types';

	/** Time zone, business days, and when messages go out. */
	let { data }: { data: PageData } = $props();
	const f = $derived(data.details);
	const WEEK = ['', 'Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'];
</script>

<FirmSettings title="Calendar and sending hours" action="changeHours" mayChange={data.maySetUp}>
	{#snippet shown()}
		<dl class="facts mt-2">
			<div>
				<dt>Time zone</dt>
				<dd>{f.calendar.timeZone}</dd>
			</div>
			<div>
				<dt>Business days</dt>
				<dd>{f.calendar.businessDays.map((d) => WEEK[d]).join(', ')}</dd>
			</div>
			<div>
				<dt>Sending hours</dt>
				<dd>{f.calendar.sendFrom} to {f.calendar.sendTo}</dd>
			</div>
		</dl>
		{#if data.neverMeet.length > 0}<p class="notice-lamp mt-3 text-[0.9rem]">
				Never within these hours are the times of {#each data.neverMeet as who, n (who.id)}{n === 0
						? ''
						: n === data.neverMeet.length - 1
							? ' and '
							: ', '}<a class="act-link" href="/desk/clients/{who.clientId}">{who.name}</a>{/each}: until one of them is changed, the firm’s hours
				hold alone.
			</p>{/if}
	{/snippet}
	{#snippet fields(wrong: Record<string, string>)}
		<div class="grid gap-3 sm:grid-cols-3">
			<label class="field"
				><span>Time zone</span><select name="timeZone"
					>{#each data.choices.timeZones as zone (zone)}<option value={zone} selected={zone === f.calendar.timeZone}
							>{zone.replaceAll('_', ' ')}</option
						>{/each}</select
				></label
			>
			<label class="field"><span>Messages go out from</span><input type="time" name="sendFrom" value={f.calendar.sendFrom} required /></label>
			<div>
				<label class="field"><span>until</span><input type="time" name="sendTo" value={f.calendar.sendTo} required /></label>
				<FieldProblem id="p-to" message={wrong.sendTo} />
			</div>
		</div>
		<fieldset>
			<legend class="field-label">Business days</legend>
			<div class="flex flex-wrap gap-x-4 gap-y-1 text-sm">
				{#each WEEK.slice(1) as day, i (day)}<label class="flex min-h-6 items-center gap-2"
						><input type="checkbox" name="businessDays" value={i + 1} checked={f.calendar.businessDays.includes(i + 1)} /> {day}</label
					>{/each}
			</div>
			<FieldProblem id="p-days" message={wrong.businessDays} />
		</fieldset>
		<p class="text-xs text-(--half)">All upcoming reminders are rescheduled to these hours.</p>
	{/snippet}
</FirmSettings>
