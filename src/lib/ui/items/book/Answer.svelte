<script lang="ts">
	import { timeWords } from '$lib/words/dates';
	import { sayer } from '$lib/words/words';
	import { enhancedForm } from '../../forms/enhanced-form';
	import Given from '../Given.svelte';
	import type { AnswerProps } from '../answer';

	let { item, open, locale, brand, home, now, handling, pending }: AnswerProps<'book'> = $props();
	const say = $derived(sayer(locale));
	const book = $derived(item.spec);
	const times = $derived(book.times.filter((at) => at > now));
	const time = (at: string) => timeWords(locale, at, brand.timeZone);
	/** the firm's time zone as people say it, such as “Halifax, Atlantic time” */
	const zoneWords = $derived(
		new Intl.DateTimeFormat(locale, { timeZone: brand.timeZone, timeZoneName: 'longGeneric' })
			.formatToParts(new Date(now))
			.find((part) => part.type === 'timeZoneName')?.value ?? brand.timeZone
	);
</script>

{#if open}
	{#if times.length > 0}
		<form method="post" action="?/handIn" class="mt-4" {@attach enhancedForm(handling)}>
			<fieldset>
				<legend class="field-label !text-[0.92rem]"
					>{say('item.book.choose')}: {say('item.book.minutes', { minutes: book.minutes, where: book.where || 'none' })}</legend
				>
				<div class="space-y-2">
					{#each times as at (at)}<label class="time"><input type="radio" name="time" value={at} required /> <span>{time(at)}</span></label>{/each}
				</div>
			</fieldset>
			<button class="act mt-3 w-full" disabled={pending}>{say('item.book.take')}</button>
			<p class="mt-2 text-sm text-(--half)">{say('item.book.zone', { zone: zoneWords })} {say('item.book.none')}</p>
		</form>
	{:else if book.times.length > 0}<p class="notice-lamp mt-4">{say('item.book.gone')}</p>{/if}
	{#if book.link}
		<p class="mt-3">
			<a class="act {times.length > 0 ? 'act-second' : ''} w-full" href={book.link} target="_blank" rel="noopener noreferrer external"
				>{say('item.book.link')}</a
			>
		</p>
		<form method="post" action="?/handIn" class="mt-2" {@attach enhancedForm(handling)}>
			<button class="act-quiet w-full" disabled={pending}>{say('item.book.booked')}</button>
		</form>
	{/if}
{:else if item.answer}
	{@const booked = item.answerData?.time}
	<Given label={say('item.answer.given')} text={booked ? time(booked) : item.answer} />
	{#if booked}
		<p class="mt-2 text-sm text-(--half)">{say('item.book.zone', { zone: zoneWords })}</p>
		<a class="act-quiet mt-3 w-full" href="{home}/item/{item.id}/calendar" download>{say('item.book.calendar')}</a>
	{/if}
{/if}

<style>
	.time {
		display: flex;
		align-items: center;
		gap: 0.75rem;
		min-height: 48px;
		padding: 0.4rem 0.9rem;
		border: 1px solid var(--rule-strong);
		border-radius: 6px;
		background: #fffefb;
		cursor: pointer;
	}
	.time:has(:checked) {
		border-color: var(--act);
		box-shadow: inset 0 0 0 1px var(--act);
	}
	.time input {
		accent-color: var(--act);
	}
</style>
