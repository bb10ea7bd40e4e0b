<script lang="ts">
	import { onMount, untrack } from 'svelte';
	import type { TheirTimes } from '$lib/core/calendar/their-times';
	import { placeOfZone } from '$lib/core/calendar/times-in-words';

	/** The fields in which it is said when somebody may be written to: where they are, from when to when, on which days not, how often. */
	let {
		times,
		asRead,
		stands,
		zones,
		firm,
		locale,
		words,
		fields,
		problemIds,
		offersDevice = false
	}: {
		times: TheirTimes | null;
		/** what stood there when that was read */ asRead: string;
		/** what stands there by now, once the reader was told that it has changed, or has saved */ stands?: string;
		/** every time zone that can be chosen */ zones: readonly string[];
		firm: { timeZone: string; sendFrom: string; sendTo: string; perWeek: number };
		locale: string;
		words: {
			zone: string;
			asFirm: (place: string) => string;
			from: string;
			to: string;
			/** what empty times stand for */ empty: string;
			quiet: string;
			week: string;
			weekAsFirm: (count: number) => string;
			/** takes the time zone of the device, where it is another one */ device?: (place: string) => string;
		};
		/** what is wrong, by field */ fields: Readonly<Record<string, string>>;
		/** what the ids of the fields' problems begin with */ problemIds: string;
		/** whether whoever fills it in is whom it is about */ offersDevice?: boolean;
	} = $props();

	// what is chosen stays while the page is read anew; what came with that nobody has looked at before they are told
	const opened = untrack(() => asRead);
	const chosen = $state(
		untrack(() => ({
			timeZone: times?.timeZone ?? '',
			from: times?.from ?? '',
			to: times?.to ?? '',
			quietDays: times ? [...times.quietDays] : [],
			perWeek: String(times?.perWeek ?? '')
		}))
	);
	const most = $derived(Math.max(firm.perWeek, Number(chosen.perWeek)));
	// 5 January 1970 was a Monday
	const weekdays = $derived(
		Array.from({ length: 7 }, (_, n) =>
			new Intl.DateTimeFormat(locale, { weekday: 'long', timeZone: 'UTC' }).format(new Date(Date.UTC(1970, 0, 5 + n)))
		)
	);
	let deviceZone = $state('');
	onMount(() => {
		if (offersDevice) deviceZone = Intl.DateTimeFormat().resolvedOptions().timeZone;
	});
	const proposed = $derived(zones.includes(deviceZone) && deviceZone !== (chosen.timeZone || firm.timeZone) ? deviceZone : '');
</script>

{#snippet wrong(field: string)}{#if fields[field]}<p class="field-problem" id="{problemIds}-{field}">{fields[field]}</p>{/if}{/snippet}
<input type="hidden" name="asRead" value={stands ?? opened} />
<div class="flex flex-wrap gap-x-4 gap-y-3">
	<div class="min-w-60 flex-1">
		<label class="field"
			><span>{words.zone}</span><select
				name="timeZone"
				bind:value={chosen.timeZone}
				aria-invalid={fields.timeZone ? 'true' : undefined}
				aria-describedby={fields.timeZone ? `${problemIds}-timeZone` : undefined}
				><option value="">{words.asFirm(placeOfZone(firm.timeZone))}</option>{#each zones as zone (zone)}<option value={zone}
						>{zone.replaceAll('_', ' ')}</option
					>{/each}</select
			></label
		>
		{@render wrong('timeZone')}
		{#if proposed && words.device}<button type="button" class="act-link mt-1 text-left text-[0.9rem]" onclick={() => (chosen.timeZone = proposed)}
				>{words.device(placeOfZone(proposed))}</button
			>{/if}
	</div>
	<div>
		<label class="field"
			><span>{words.from}</span><input
				type="time"
				name="from"
				bind:value={chosen.from}
				aria-invalid={fields.from ? 'true' : undefined}
				aria-describedby={fields.from ? `${problemIds}-from` : `${problemIds}-empty`}
			/></label
		>
		{@render wrong('from')}
	</div>
	<div>
		<label class="field"
			><span>{words.to}</span><input
				type="time"
				name="to"
				bind:value={chosen.to}
				aria-invalid={fields.to ? 'true' : undefined}
				aria-describedby={fields.to ? `${problemIds}-to` : `${problemIds}-empty`}
			/></label
		>
		{@render wrong('to')}
	</div>
</div>
<p class="mt-1 text-[0.86rem] text-(--half)" id="{problemIds}-empty">{words.empty}</p>
<fieldset class="mt-3">
	<legend class="text-[0.86rem] text-(--half)">{words.quiet}</legend>
	<div class="mt-1 flex flex-wrap gap-x-4 gap-y-1">
		{#each weekdays as weekday, n (weekday)}<label class="day"
				><input type="checkbox" name="quietDays" value={n + 1} bind:group={chosen.quietDays} />{weekday}</label
			>{/each}
	</div>
	{@render wrong('quietDays')}
</fieldset>
<label class="field mt-3 max-w-72"
	><span>{words.week}</span><select name="perWeek" bind:value={chosen.perWeek}
		><option value="">{words.weekAsFirm(firm.perWeek)}</option>{#each Array.from({ length: most }, (_, n) => String(n + 1)) as count (count)}<option
				>{count}</option
			>{/each}</select
	></label
>
{@render wrong('perWeek')}

<style>
	.day {
		display: inline-flex;
		min-height: 1.9rem;
		align-items: center;
		gap: 0.4rem;
	}
</style>
