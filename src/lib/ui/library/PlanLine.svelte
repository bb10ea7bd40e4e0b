<script lang="ts">
	import { daysBetween, isBusinessDay, addDays, type FirmCalendar, type IsoDate } from '$lib/core/calendar/firm-calendar';
	import { placeChaseSteps, type ChasePlan } from '$lib/core/chasing/chase-plan';

	/** The steps of a plan on a line of business days, for something that is asked today and due in ten of them. */
	let { plan, calendar, example }: { plan: ChasePlan; calendar: FirmCalendar; example: { askedOn: IsoDate; dueOn: IsoDate } } = $props();
	/** business days from one day to another */
	function businessDays(from: IsoDate, to: IsoDate): number {
		let n = 0;
		for (let day = from; day < to; day = addDays(day, 1)) if (isBusinessDay(addDays(day, 1), calendar)) n++;
		return n;
	}
	const offset = (day: IsoDate) => (day < example.dueOn ? -businessDays(day, example.dueOn) : businessDays(example.dueOn, day));
	const steps = $derived(
		placeChaseSteps({ ...example, heardOn: null }, plan, calendar)
			.filter(({ on }) => daysBetween(example.dueOn, on) < 90)
			.map((step) => ({ ...step, at: offset(step.on) }))
	);
	const from = $derived(Math.min(-10, ...steps.map(({ at }) => at)) - 1);
	const to = $derived(Math.max(10, ...steps.map(({ at }) => at)) + 2);
	const x = (at: number) => ((at - from) / (to - from)) * 100;
	const label = (at: number) => (at === 0 ? 'due' : at > 0 ? `+${at}` : `−${-at}`);
	const SAYS = {
		usual: 'as they wish',
		email: 'by e-mail',
		text: 'by text',
		both: 'by e-mail and text',
		call: 'a call',
		partner: 'a partner is told'
	};
</script>

<figure class="line" aria-label="The steps, for something that is asked today and due in ten business days">
	<span class="at quiet" style="left: {x(-10)}%"><b>asked</b></span>
	{#if !steps.some(({ at }) => at === 0)}<span class="at quiet" style="left: {x(0)}%"><b>due</b></span>{/if}
	{#each steps as step (step.turn)}
		<span class="at" style="left: {x(step.at)}%" title="{step.on}: {SAYS[step.by]}{step.firmer ? ', firmer' : ''}">
			<b>{label(step.at)}</b><i class={step.by} class:firmer={step.firmer}></i>
		</span>
	{/each}
	<figcaption>business days; asked today, due in ten</figcaption>
</figure>

<style>
	.line {
		position: relative;
		height: 66px;
		margin: 0.5rem 0 1.4rem;
		border-top: 1px solid var(--rule-strong);
		border-bottom: 1px solid var(--rule-strong);
	}
	.at {
		position: absolute;
		top: 0;
		bottom: 0;
		border-left: 1px solid var(--rule);
		font-size: 0.75rem;
	}
	.at b {
		position: absolute;
		top: 6px;
		transform: translateX(-50%);
		padding: 0 2px;
		font-weight: normal;
		color: var(--half);
		background: var(--sheet);
		white-space: nowrap;
	}
	.quiet b {
		top: 24px;
	}
	i {
		position: absolute;
		top: 36px;
		width: 12px;
		height: 15px;
		transform: translateX(-50%);
		border: 2px solid var(--ink);
		background: var(--sheet);
	}
	i.text {
		transform: translateX(-50%) skewX(-14deg);
	}
	i.call {
		border-radius: 50%;
	}
	i.partner {
		border-style: double;
		border-width: 4px;
	}
	i.firmer {
		background: var(--lamp);
	}
	figcaption {
		position: absolute;
		right: 0;
		top: 100%;
		padding-top: 2px;
		font-size: 0.7rem;
		color: var(--half);
	}
</style>
