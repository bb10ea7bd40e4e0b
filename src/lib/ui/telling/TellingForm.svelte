<script lang="ts">
	import { untrack } from 'svelte';
	import { WEEKDAYS } from '$lib/core/chasing/chase-plan';
	import { SUMMARY_TIMES, type Telling, type ToldHow } from '$lib/core/telling/telling';
	import { enhancedForm } from '$lib/ui/forms/enhanced-form';

	/** How somebody of the firm is told what: of which clients, when a summary comes, and which kinds of things. */
	let {
		telling,
		kinds,
		words,
		action,
		label,
		saved,
		said = $bindable('')
	}: {
		telling: Telling;
		kinds: readonly { kind: keyof Telling['kinds']; title: string }[];
		/** how the choices are said: to whoever chooses for themselves, or for everybody */
		words: { mine: string; all: string };
		action: string;
		label: string;
		/** what is said once it is saved */
		saved: string;
		/** what is said just now: kept by the page, for the form may be made anew */
		said?: string;
	} = $props();

	// what is chosen stays while the page is read anew
	const chosen = $state(untrack(() => ({ ...telling, kinds: { ...telling.kinds } })));
	let problem = $state('');
	let pending = $state(false);
	const HOW: { how: ToldHow; title: string }[] = [
		{ how: 'at_once', title: 'At once' },
		{ how: 'summary', title: 'In the summary' },
		{ how: 'not', title: 'Not' }
	];
	/** without a summary, what is chosen for it comes nowhere */
	const lost = $derived(chosen.summary === 'none' && kinds.some(({ kind }) => chosen.kinds[kind] === 'summary'));
</script>

<form
	method="post"
	{action}
	aria-label={label}
	oninput={() => (said = '')}
	{@attach enhancedForm({
		onPending: (begins) => (pending = begins),
		onProblem: (what) => {
			problem = what.message;
			said = '';
		},
		onSuccess: () => {
			problem = '';
			said = saved;
		}
	})}
>
	<div class="flex flex-wrap gap-x-4 gap-y-3">
		<label class="field min-w-52"
			><span>Of which clients</span><select name="whose" bind:value={chosen.whose}
				><option value="mine">{words.mine}</option><option value="all">{words.all}</option></select
			></label
		>
		<label class="field min-w-44"
			><span>A summary</span><select name="summary" bind:value={chosen.summary}
				><option value="daily">on every business day</option><option value="weekly">once a week</option><option value="none">no summary</option
				></select
			></label
		>
		{#if chosen.summary === 'weekly'}<label class="field"
				><span>Day of the week</span><select name="weekday" bind:value={chosen.weekday}
					>{#each WEEKDAYS as day, n (day)}<option value={n + 1}>{day}</option>{/each}</select
				></label
			>{/if}
		{#if chosen.summary !== 'none'}<label class="field"
				><span>Time</span><select name="time" bind:value={chosen.time}
					>{#each SUMMARY_TIMES as time (time)}<option>{time}</option>{/each}</select
				></label
			>{/if}
	</div>
	<table class="kinds mt-4">
		<thead>
			<tr
				><th scope="col"><span class="sr-only">What happens</span></th>{#each HOW as { how, title } (how)}<th scope="col" class="how">{title}</th
					>{/each}</tr
			>
		</thead>
		<tbody>
			{#each kinds as { kind, title } (kind)}<tr>
					<th scope="row">{title}</th>
					{#each HOW as { how, title: said } (how)}<td
							><label><input type="radio" name={kind} value={how} bind:group={chosen.kinds[kind]} aria-label="{title}: {said.toLowerCase()}" /></label
							></td
						>{/each}
				</tr>{/each}
		</tbody>
	</table>
	{#if lost}<p class="mt-2 text-sm text-(--lamp-deep)">
			Without a summary, what is chosen for it is not sent. Rounds and the history have it anyway.
		</p>{/if}
	{#if problem}<p class="notice-wrong mt-3" role="alert">{problem}</p>{/if}
	<div class="mt-4 flex flex-wrap items-center gap-3">
		<button class="act" disabled={pending}>Save</button>
		<span role="status" class="text-sm">{said}</span>
	</div>
</form>

<style>
	.kinds {
		width: 100%;
		border-collapse: collapse;
		font-size: 0.9rem;
	}
	.kinds th,
	.kinds td {
		border-bottom: 1px solid var(--rule);
		padding: 5px 6px 5px 0;
		text-align: left;
		font-weight: 400;
	}
	.kinds thead th {
		color: var(--half);
		font-size: 0.8125rem;
	}
	.kinds .how,
	.kinds td {
		width: 6rem;
		text-align: center;
	}
	.kinds td label {
		display: block;
		cursor: pointer;
	}
	.kinds input {
		width: 17px;
		height: 17px;
		accent-color: var(--act);
		vertical-align: middle;
	}
	@media (max-width: 560px) {
		.kinds .how,
		.kinds td {
			width: 4.2rem;
		}
	}
</style>
