<script lang="ts">
	import FirmSettings from '$lib/ui/firm/FirmSettings.svelte';
	import FieldProblem from '$lib/ui/forms/FieldProblem.svelte';
	import { dateWords } from '$lib/words/dates';
	import { enhancedForm } from '$lib/ui/forms/enhanced-form';
	import type { PageData } from './$types';

	/** The days on which nothing is sent. */
	let { data }: { data: PageData } = $props();
	let holidayProblem = $state('');
</script>

<FirmSettings title="Holidays" action="addHoliday" mayChange={data.maySetUp} stays>
	{#snippet shown()}
		<ul class="mt-2 text-sm">
			{#each data.holidays as h (h.day)}<li class="flex justify-between gap-3 border-b border-(--rule-strong) py-1.5">
					<span>{h.name}</span><span class="whitespace-nowrap text-(--half)">{dateWords('en', h.day, 'withYear')}</span>
				</li>{:else}<li class="py-1.5 text-(--half)">None coming up: every business day is a working day.</li>{/each}
		</ul>
	{/snippet}
	{#snippet beside()}
		<ul class="mt-2 max-w-3xl text-sm">
			{#each data.holidays as h (h.day)}<li class="flex items-center gap-3 border-b border-(--rule-strong) py-1">
					<span class="flex-1">{h.name}</span><span class="whitespace-nowrap text-(--half)">{dateWords('en', h.day, 'withYear')}</span>
					<form method="post" action="?/removeHoliday" {@attach enhancedForm({ onProblem: (p) => (holidayProblem = p.message) })}>
						<input type="hidden" name="day" value={h.day} /><button class="act-link" aria-label="Remove {h.name}">Remove</button>
					</form>
				</li>{/each}
		</ul>
		<form
			method="post"
			action="?/importHolidays"
			enctype="multipart/form-data"
			class="mt-3 flex max-w-3xl flex-wrap items-end gap-3"
			{@attach enhancedForm({ onProblem: (p) => (holidayProblem = p.message), onSuccess: () => void (holidayProblem = '') })}
		>
			<label class="field"><span>A calendar of holidays (.ics)</span><input type="file" name="calendar" accept=".ics,text/calendar" required /></label
			>
			<button class="act-quiet">Add its holidays of the next three years</button>
			{#if holidayProblem}<p class="field-problem w-full" role="alert">{holidayProblem}</p>{/if}
		</form>
	{/snippet}
	{#snippet fields(wrong: Record<string, string>)}
		{#key data.holidays.length}<div class="grid gap-3 sm:grid-cols-[11rem_1fr]">
				<div>
					<label class="field"><span>Day</span><input type="date" name="day" required /></label>
					<FieldProblem id="h-day" message={wrong.day} />
				</div>
				<div>
					<label class="field"><span>Called</span><input name="name" maxlength="80" required /></label>
					<FieldProblem id="h-name" message={wrong.name} />
				</div>
			</div>{/key}
		<p class="text-xs text-(--half)">Nothing is sent on these days; reminders move around them.</p>
	{/snippet}
</FirmSettings>
